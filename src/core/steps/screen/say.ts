import type { Control, ControlValue } from '#core/display'
import { quoted, shown } from '#core/model'
import { plainly, saying } from '../saying'

/** What processing, refresh and uniformity may leave open, in words. */
export const dimmingLocked = saying(
  'dimming-locked',
  ({ control }: { control: Control }) => `${quoted(control)} cannot be set here and stays as it is.`,
)
export const noCheckerboard = saying(
  'no-checkerboard',
  ({ control, value }: { control: Control; value: ControlValue }) =>
    `Strengths of ${quoted(control)} were not compared: the source shows no checkerboard. It stays at ${shown(control, value)}.`,
)
export const strengthsLeftOut = saying(
  'strengths-left-out',
  ({ control, value }: { control: Control; value: ControlValue }) =>
    `Strengths of ${quoted(control)} were not compared: patches of it were left out. It stays at ${shown(control, value)}.`,
)
export const notSeen = saying(
  'not-seen',
  ({ control, value }: { control: Control; value: ControlValue }) =>
    `${quoted(control)} was not checked by eye: it is set to ${shown(control, value)}, its neutral value.`,
)
export const checksSkipped = saying(
  'checks-skipped',
  ({ titles }: { titles: readonly string[] }) =>
    `Visual checks skipped: ${titles.map((t) => t.toLowerCase()).join(', ')}.`,
)
/** What a person saw, in the words of the question. */
export const seenWrong = saying('seen-wrong', ({ wrong }: { wrong: string }) => wrong)
/** `label`: the grey; change of light as a share; rates in Hz. */
export const flickers = saying(
  'flickers',
  ({
    label,
    change,
    slowest,
    fastest,
  }: {
    label: string
    change: number
    slowest: number
    fastest: number
  }) =>
    `With variable refresh ${label} changes by ${(100 * change).toFixed(0)} % between ${slowest} and ${fastest} Hz, which is seen as flicker where the frame rate jumps. Photosensitive players turn variable refresh off.`,
)
export const placesBlank = saying(
  'places-blank',
  ({ read, of }: { read: number; of: number }) =>
    `Uniformity: ${read} of ${of} places were read; the others are left blank, and what is said holds for those.`,
)
export const uniformityNotRead = plainly(
  'uniformity-not-read',
  'Uniformity was not measured: ask for the sweep “Uniformity”, and move the meter from place to place.',
)
