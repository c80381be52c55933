import type { Control } from '#core/display'
import { quoted } from '#core/model'
import { ending, plainly, saying } from '../saying'

/** What latency and trade-offs may leave open, in words. */
export const priceNotMeasured = saying(
  'price-not-measured',
  ({ control }: { control: Control }) => `${quoted(control)} cannot be set here: its price was not measured.`,
)
export const optionsNotMeasured = plainly(
  'options-not-measured',
  'What options do to the picture was not measured in this case.',
)
export const optionsWander = plainly(
  'options-wander',
  'What options do to the picture was not measured to its end: the display does not stay where it is set.',
)
/** `why`: a sentence. */
export const optionNotTried = saying(
  'option-not-tried',
  ({ control, why }: { control: Control; why: string }) => `${quoted(control)} was not tried: ${ending(why)}`,
)
export const latencyNotMeasured = saying(
  'latency-not-measured',
  ({ probe }: { probe: boolean }) =>
    `Latency was not measured: ${probe ? 'flashes were left out' : 'there is no probe'}. What shortens it is set as the sheet says.`,
)
