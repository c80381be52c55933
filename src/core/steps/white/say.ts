import { type Control, menuLevelOf, type NumberControl } from '#core/display'
import { quoted } from '#core/model'
import { ending, plainly, saying } from '../saying'
import { percent } from './level-errors'

/** What white balance may not reach, in words. */
export const primariesAlike = plainly(
  'primaries-alike',
  'The three primaries read alike, so grey cannot be separated into channels. Check the signal.',
)
export const whiteOutside = plainly(
  'white-outside',
  'The target white lies outside the colours of this display.',
)
/** `conflict`: what another case keeps there, as a sentence. */
export const noOtherPreset = saying(
  'no-other-preset',
  ({ conflict }: { conflict: string }) => `${conflict} No other preset is available.`,
)
export const whiteLocked = saying(
  'white-locked',
  ({ why }: { why: string | undefined }) =>
    `Gains and cuts cannot be set here: ${ending(why ?? 'they are locked')}`,
)
export const noWhiteControls = plainly(
  'no-white-controls',
  'This display has no gains or cuts: white stays where the best preset puts it.',
)
/** Nothing is left of a control where more of it was wanted. */
export const atEndOfRange = saying(
  'end-of-range',
  ({ control }: { control: Control }) => `${quoted(control)} is at the end of its range.`,
)
export const levelAtEndOfRange = saying(
  'end-of-range',
  ({ control }: { control: NumberControl }) =>
    `${quoted(control)} at ${percent(menuLevelOf(control) ?? 0)} % is at the end of its range.`,
)
export const levelsLocked = plainly('levels-locked', 'The multi-point controls cannot be set here.')
export const levelsMoveNothing = plainly(
  'levels-move-nothing',
  'Single levels move no grey in HDR, where they were tried: they stay as they are.',
)
export const keptByAnother = saying('kept-by-another', ({ conflict }: { conflict: string }) => conflict)
