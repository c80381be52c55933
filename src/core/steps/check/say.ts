import type { Control } from '#core/display'
import { plainly, saying } from '../saying'

/** What preparing, the signal check and the end of HDR may leave open, in words. */
export const pixelsNotChecked = plainly(
  'pixels-not-checked',
  'Whether the picture is shown pixel for pixel was not checked: the source shows no single pixels. Look in the display’s menu whether the picture is enlarged.',
)
export const likeWrongRange = plainly(
  'like-wrong-range',
  'Tone out of the box is as light or as deep as a wrong range would make it, while the display’s own page says that the range arrives as sent. Check the range setting in its menu.',
)
export const neutralUnknown = saying(
  'neutral-unknown',
  ({ control }: { control: Control }) =>
    `The sheet does not say at which value “${control.label}” is neutral: make sure that it does not change the picture.`,
)
const MOST_NAMED = 4
const few = (controls: readonly Control[]): string =>
  controls
    .slice(0, MOST_NAMED)
    .map((c) => `“${c.label}”`)
    .join(', ') + (controls.length > MOST_NAMED ? ` and ${controls.length - MOST_NAMED} more` : '')
export const lockedByDynamic = saying(
  'locked-by-dynamic',
  ({ controls }: { controls: readonly Control[] }) =>
    `With dynamic metadata the display does not offer ${few(controls)}: what HDR film has set there, or the display itself, decides.`,
)
export const sharedWithFilm = saying(
  'shared-with-film',
  ({ controls }: { controls: readonly Control[] }) =>
    `${controls.length} ${controls.length === 1 ? 'value is' : 'values are'} stored with HDR film, static metadata or not: this case inherits what was set there in the same mode, and a change changes both.`,
)
export const brightGreysNotRead = plainly(
  'bright-greys-not-read',
  'Bright greys were not read, being beyond the meter or left out: the knee, the end of detail and the kind of tone mapping are told from those that were.',
)
export const sceneNotChecked = plainly(
  'scene-not-checked',
  'Whether tone mapping follows a highlight elsewhere in the scene was not checked: the source shows none beside a patch.',
)
export const followsNowhere = plainly(
  'follows-nowhere',
  'No grey comes within 3 % of PQ: the display scales all of it.',
)
