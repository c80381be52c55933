import type { Channel } from '#core/display'
import { greyErrorNoise } from '#core/judge'
import { averagedPrecision, JUDGED_LEVELS } from '#core/measure'
import { type Aspect, drivesAt, featureOf, type GreyModel } from '#core/model'
import type { ClicksToTarget } from '#core/solve'
import type { RouteContext } from '../facts/context'

/** Scatter of the average greyscale ΔE over the judged levels at the present panel light: what one sweep cannot tell apart. */
export const sweepNoise = (context: RouteContext, model: GreyModel): number => {
  const { facts } = context
  const light = model.lightOf(facts.state)
  const peak = model.white * light
  const noises = JUDGED_LEVELS.map((l) =>
    greyErrorNoise(peak * l ** model.exponent, peak, model.target, averagedPrecision(facts.precision)),
  )
  return Math.hypot(...noises) / noises.length
}

/** Clicks that each level is away from the target, in the clicks of the control that moves it most. */
export const awayOf = (context: RouteContext, model: GreyModel, amounts: Float64Array): ClicksToTarget[] => {
  const { byRole } = context
  const per = (channel: 'red' | 'blue', pair: 'gain' | 'cut', at: number): number => {
    const control = byRole[pair][channel]
    const feature = control ? featureOf(model, control.key) : -1
    return feature < 0 ? 0 : model.effect[channel as Aspect][feature]![at]!
  }
  const ownLevel = (channel: Channel, level: number) =>
    byRole.levelWhite.find((l) => l.channel === channel && Math.abs(l.level - level) < 1e-9)
  const byLevel = byRole.levelWhite.length > 0 && Object.keys(byRole.gain).length === 0
  return JUDGED_LEVELS.flatMap((level): ClicksToTarget[] => {
    const at = model.levels.indexOf(level)
    if (at < 0) return []
    const drives = drivesAt(model, at, amounts)
    const size = (pair: 'gain' | 'cut') => Math.abs(per('red', pair, at)) + Math.abs(per('blue', pair, at))
    const pair = size('gain') >= size('cut') ? 'gain' : 'cut'
    const togo = (channel: 'red' | 'blue'): number => {
      let click = per(channel, pair, at)
      if (byLevel) {
        const own = ownLevel(channel, level)
        const feature = own ? featureOf(model, own.control.key) : -1
        click = feature < 0 ? 0 : model.effect[channel][feature]![at]!
      }
      return Math.abs(click) > 1e-9 ? (level - drives[channel]) / click : 0
    }
    return [{ level, by: byLevel ? 'level' : pair, red: togo('red'), green: 0, blue: togo('blue') }]
  })
}
