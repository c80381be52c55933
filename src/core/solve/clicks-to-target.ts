import type { Chromaticity, XYZ } from '#core/colorimetry'
import { type ControlSheet, factoryState } from '#core/display'
import { greyLevel, JUDGED_LEVELS, type MeterPrecision, type Patch } from '#core/measure'
import { createMemo, type Memo } from '#core/memo'
import { type ChannelMatrix, controlsByRole, drivesAt, featureOf, fitGreyModel } from '#core/model'

/** Clicks of the control that moves a level most, between the level and the target. */
export interface ClicksToTarget {
  /** Signal, 0…1. */
  readonly level: number
  /** The pair of controls that moves this level most. */
  readonly by: 'gain' | 'cut' | 'level'
  /** Signed clicks to go. */
  readonly red: number
  readonly green: number
  readonly blue: number
}

/**
 * How many clicks each grey level of a sweep is away from the target, reckoned with what a click of such a range usually
 * does: for sweeps that stand by themselves, without moves to learn from.
 * In: sheet, channel matrix and readings of one state, target white, scatter of the meter. Out: one entry a level; none
 * where the sheet has no two-point controls or the target cannot be mixed.
 */
export const clicksToTarget = (
  sheet: ControlSheet,
  channelMatrix: ChannelMatrix,
  readings: ReadonlyArray<{ patch: Patch; xyz: XYZ }>,
  target: Chromaticity,
  precision: MeterPrecision,
  memo: Memo = createMemo(),
): ClicksToTarget[] => {
  const { gain, cut } = controlsByRole(sheet)
  if (Object.keys(gain).length + Object.keys(cut).length === 0) return []
  const state = factoryState(sheet)
  const byLevel = new Map<number, XYZ>()
  for (const { patch, xyz } of readings) {
    const level = greyLevel(patch)
    if (level) byLevel.set(level, xyz)
  }
  const model = fitGreyModel({
    memo,
    sheet,
    reference: state,
    channelMatrix,
    target,
    exponent: 2.2,
    observations: [...byLevel].map(([level, xyz], id) => ({ id, level, xyz, state })),
    levels: JUDGED_LEVELS,
    movable: [...Object.values(gain), ...Object.values(cut)],
    precision,
    lightOf: () => 1,
    now: state,
  })
  if (!model) return []
  const still = new Float64Array(model.features.length)
  return model.levels.flatMap((level, at): ClicksToTarget[] => {
    if (!byLevel.has(level)) return []
    const drives = drivesAt(model, at, still)
    const effect = (channel: 'red' | 'blue', pair: 'gain' | 'cut') => {
      const control = (pair === 'gain' ? gain : cut)[channel]
      const f = control ? featureOf(model, control.key) : -1
      return f < 0 ? 0 : model.effect[channel][f]![at]!
    }
    const size = (pair: 'gain' | 'cut') => Math.abs(effect('red', pair)) + Math.abs(effect('blue', pair))
    const by = size('gain') >= size('cut') ? 'gain' : 'cut'
    const togo = (channel: 'red' | 'blue') => {
      const click = effect(channel, by)
      return Math.abs(click) > 1e-9 ? (level - drives[channel]) / click : 0
    }
    return [{ level, by, red: togo('red'), green: 0, blue: togo('blue') }]
  })
}
