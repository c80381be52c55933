import { controlOf, menuLevelOf } from '#core/display'
import { greyErrorChromatic } from '#core/judge'
import { greyLevel } from '#core/measure'
import { quoted, shown } from '#core/model'
import {
  asExpected,
  type Prediction,
  type RouteContext,
  type RouteReading,
  type UnexpectedReading,
} from '#core/steps'

const measuredOf = (
  context: RouteContext,
  reading: RouteReading,
  prediction: Prediction,
): number | undefined => {
  if (prediction.quantity === 'luminance') return reading.xyz[1]
  if (prediction.quantity !== 'white-error' || greyLevel(reading.patch) === undefined) return undefined
  const peak = context.facts.readings.findLast((r) => r.patch.key === context.patches.white.key)?.xyz[1]
  return peak && greyErrorChromatic(reading.xyz, peak, context.facts.targets.white)
}

/**
 * Whether the newest move brought what was predicted. Where a reading is off by more than chance and more than anybody sees, it
 * is read once more before anything is built on it.
 * Out: doubt, or undefined where all fits or the patch was read again by now.
 */
export const unexpectedReading = (context: RouteContext): UnexpectedReading | undefined => {
  const { facts } = context
  const adjustment = facts.adjustments.at(-1)
  if (adjustment?.kind !== 'proposed' || adjustment.changes.length === 0) return undefined
  const newest = facts.readings.at(-1)
  // Once something else was read the matter is settled.
  if (!newest || newest.runId !== adjustment.runId) return undefined
  if (adjustment.changes.some((c) => facts.state[c.control] !== c.to)) return undefined
  const off = adjustment.predictions.flatMap((prediction) => {
    const reading = facts.readings.findLast(
      (r) => r.runId === adjustment.runId && r.patch.key === prediction.patch,
    )
    const measured = reading && measuredOf(context, reading, prediction)
    if (!reading || measured === undefined || asExpected(prediction, measured)) return []
    // An error that is smaller than expected is no reason to stop.
    if (prediction.quantity !== 'luminance' && measured < prediction.after) return []
    return [
      { reading, prediction, measured, by: Math.abs(measured - prediction.after) / (prediction.sigma + 0.1) },
    ]
  })
  const worst = off.sort((a, b) => b.by - a.by)[0]
  if (!worst) return undefined
  const { reading, prediction, measured } = worst
  const still = Math.abs(measured - prediction.before) < 0.3 * Math.abs(prediction.after - prediction.before)
  const level = greyLevel(reading.patch) ?? 1
  const away = (key: string) => Math.abs((controlOf(facts.sheet, key).level ?? level) - level)
  // Of many controls those are named that act where it is off.
  const named = [...adjustment.changes]
    .sort((a, b) => away(a.control) - away(b.control))
    .slice(0, 2)
    .map((c) => {
      const control = controlOf(facts.sheet, c.control)
      const level = menuLevelOf(control)
      const where = level === undefined ? '' : ` at ${Math.round(1000 * level) / 10} %`
      return `${quoted(control)}${where} ${shown(control, c.to)}`
    })
    .join(' and ')
  const unit = prediction.quantity === 'luminance' ? ' cd/m²' : ''
  const figures = `${reading.patch.label} reads ${measured.toFixed(1)}${unit} where ${prediction.after.toFixed(1)} was expected.`
  return {
    runId: adjustment.runId,
    changes: adjustment.changes,
    patch: reading.patch,
    prediction,
    measured,
    sentence: `${figures}${still ? ' Nothing has changed.' : ''} ${
      // A bench has read back what it set: what differs is the model, more often than the menu.
      facts.hand === undefined
        ? 'It is read once more before anything is built on it.'
        : `Read it once more. Where it stays so, check that the menu shows ${named}, and that meter and picture are stable.`
    }`,
  }
}
