import { type Control, type ControlSheet, MEASURED_AT_NEUTRAL } from '#core/display'
import { controlsByRole } from '#core/model'
import type { HandPace } from '#core/steps'
import { EFFORT } from './tuning'

/** How far a case goes: which mode only, or how much of white balance. */
export const EFFORT_DEPTHS = ['modes', 'two-point', 'five', 'all'] as const
export type EffortDepth = (typeof EFFORT_DEPTHS)[number]

/** What a case is expected to take by hand, up to a depth. */
export interface Effort {
  readonly depth: EffortDepth
  readonly readings: number
  readonly values: number
  readonly clicks: number
  /** Minutes with the remote and the meter. */
  readonly minutes: number
}

interface Part {
  readings: number
  values: number
  clicks: number
}

/** Clicks over the whole of a control. */
const clicksOver = (control: Control): number =>
  control.kind === 'number'
    ? (control.range.max - control.range.min) / control.range.step
    : Math.max(1, control.choices.length - 1)

/**
 * What a whole case by hand is expected to take, for each depth that the display has. In: sheet; whether the picture modes are surveyed first;
 * whether the model answers as is known from an earlier case; pace of the person, s; seconds that a reading takes. Out: the shallowest first,
 * each with all before it.
 */
export const effortOf = (
  sheet: ControlSheet,
  how: { readonly survey: boolean; readonly known: boolean },
  pace: HandPace & { readonly perReading: number },
): Effort[] => {
  const byRole = controlsByRole(sheet)
  const { mode } = byRole
  const modes = how.survey && mode?.kind === 'choice' ? mode.choices.length : 0
  const off = sheet.controls.filter((c) => MEASURED_AT_NEUTRAL.has(c.role))
  const share = how.known ? EFFORT.known : 1
  const sum: Part = { readings: 0, values: 0, clicks: 0 }
  const rows: Effort[] = []
  const add = (readings: number, controls: readonly Control[], share: number, times = 1) => {
    sum.readings += readings
    sum.values += controls.length * times
    sum.clicks += controls.reduce((all, c) => all + Math.max(1, share * clicksOver(c)), 0) * times
  }
  const close = (depth: EffortDepth, verified: boolean) => {
    const readings = Math.round(sum.readings + (verified ? EFFORT.verify : 0))
    const [values, clicks] = [Math.round(sum.values), Math.round(sum.clicks)]
    const seconds = readings * pace.perReading + values * pace.perValue + clicks * pace.perClick
    rows.push({ depth, readings, values, clicks, minutes: seconds / 60 })
  }
  add(EFFORT.signal, off, EFFORT.choice)
  if (mode) add(modes * EFFORT.mode, [mode], EFFORT.choice, Math.max(1, modes))
  if (modes) close('modes', false)

  add(EFFORT.outOfBox - (modes ? EFFORT.mode : 0), [], 0)
  const named = (...roles: readonly Control['role'][]) => sheet.controls.filter((c) => roles.includes(c.role))
  add(EFFORT.levels, named('peak-luminance', 'black-level'), EFFORT.found, 2)
  const tones = named('tone-curve')
  const tried = Math.min(3, tones[0]?.kind === 'choice' ? tones[0].choices.length : 2)
  if (tones.length) add(EFFORT.tone * tried * share, tones.slice(0, 1), EFFORT.choice, tried)
  if (byRole.preset) add(2, [byRole.preset], EFFORT.choice)
  add(EFFORT.gamut * named('gamut').length, named('gamut'), EFFORT.choice)
  const [gains, cuts] = [Object.values(byRole.gain), Object.values(byRole.cut)]
  // Green is left alone by most policies.
  const twoPoint = [...gains, ...cuts].filter((c) => c.channel !== 'green')
  if (twoPoint.length) add(EFFORT.twoPoint * share, twoPoint, EFFORT.moved, 2)
  const colours = named('hue', 'saturation', 'colour-luminance', 'colour-amount').filter((c) => c.colour)
  if (colours.length) add(EFFORT.colours, colours, EFFORT.colour)
  close('two-point', true)

  const levels = byRole.levelWhite.filter((c) => c.channel !== 'green').map((c) => c.control)
  const places = new Set(byRole.levelWhite.map((c) => c.level)).size
  if (places > EFFORT.few) {
    const few = levels.slice(0, (EFFORT.few * levels.length) / places)
    const before = { ...sum }
    add(EFFORT.fewLevels * share, few, EFFORT.level, EFFORT.fewRounds)
    close('five', true)
    Object.assign(sum, before)
  }
  if (places) {
    add(EFFORT.allLevels * share, levels, EFFORT.level, EFFORT.rounds * share)
    close('all', true)
  }
  return rows
}
