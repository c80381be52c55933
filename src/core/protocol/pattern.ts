import { codesOf, type Patch, USUAL_WINDOW } from '#core/measure'
import { flagsFor, type SignalFormat } from '#core/signal'
import type { ShowPattern } from './messages'

/** The message that shows a patch on a signal, flagged as it is. */
export const patternOf = (patch: Patch, signal: SignalFormat): ShowPattern => ({
  layout: patch.layout ?? 'window',
  ...codesOf(patch, signal),
  window: patch.window ?? USUAL_WINDOW,
  signal,
  flags: flagsFor(signal),
  rests: null,
})
