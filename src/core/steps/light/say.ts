import type { Control, ControlValue } from '#core/display'
import { sayWhole } from '#core/measure'
import { quoted, shown } from '#core/model'
import { ending, plainly, saying } from '../saying'

/** What luminance, ends, tone and tone mapping may not reach, in words. Luminances in cd/m². */
export const noLuminanceControl = plainly(
  'no-luminance-control',
  'The sheet has no luminance control: white stays as bright as it is out of the box.',
)
export const luminanceLocked = saying(
  'luminance-locked',
  ({ control }: { control: Control }) =>
    `${quoted(control)} cannot be set: white stays at its present luminance.`,
)
export const luminanceOutOfReach = saying(
  'luminance-out-of-reach',
  ({ target, control, luminance }: { target: number; control: Control; luminance: number }) =>
    `${target} cd/m² is out of reach: ${quoted(control)} at its end gives ${sayWhole(luminance)} cd/m².`,
)
export const peakBeyondMeter = plainly(
  'peak-beyond-meter',
  'The peak was not read: it is beyond the meter, or was left out. What depends on it is not derived: tone mapping, the knee, and white above 100 cd/m².',
)
export const notAtMaximum = saying(
  'not-at-maximum',
  ({ control, top, peak }: { control: Control; top: ControlValue; peak: number | undefined }) =>
    `${quoted(control)} cannot be set to ${shown(control, top)}: the peak stays ${peak === undefined ? 'beyond the meter' : `at ${sayWhole(peak)} cd/m² in a 10 % window`}.`,
)
export const noSuchMapping = saying(
  'no-such-mapping',
  ({
    control,
    wanted,
    value,
    does,
  }: {
    control: Control
    wanted: string
    value: ControlValue
    does: string
  }) => `No value of ${quoted(control)} ${wanted} as the policy asks: ${shown(control, value)} ${does}.`,
)
export const mappingNotRead = saying(
  'mapping-not-read',
  ({ control }: { control: Control }) =>
    `${quoted(control)} stays as it is: greys about the peak were not read, being beyond the meter or left out.`,
)
export const toneLocked = saying(
  'tone-locked',
  ({ control, why }: { control: Control; why: string | undefined }) =>
    `${quoted(control)} cannot be set here: ${ending(why ?? 'it is greyed out')}`,
)
export const noToneControl = plainly('no-tone-control', 'The sheet has no control of the tone curve.')
export const toneOutOfReach = saying(
  'tone-out-of-reach',
  ({ control, aim, exponent }: { control: Control; aim: string; exponent: number }) =>
    `No value of ${quoted(control)} comes closer to the ${aim} than ${exponent.toFixed(2)}.`,
)
export const whiteClips = saying(
  'white-clips',
  ({ lost }: { lost: string }) =>
    `${lost} clipped just below white, and there is no white level control to lower.`,
)
export const whiteClipsAtEnd = saying(
  'white-clips-at-end',
  ({ lost, control, value }: { lost: string; control: Control; value: ControlValue }) =>
    `${lost} clipped just below white even with ${quoted(control)} at ${shown(control, value)}.`,
)
/** `below`: where the first step is seen, as text. */
export const shadowsClip = saying(
  'shadows-clip',
  ({ below }: { below: string }) =>
    `Shadows below ${below} are clipped to black, and there is no black level control to raise.`,
)
export const shadesStayDark = saying(
  'shades-stay-dark',
  ({ control }: { control: Control | undefined }) =>
    `Shades near black stay darker than the target asks: ${control ? `more of ${quoted(control)} would make black itself lighter` : 'nothing on this display raises them without black'}.`,
)
