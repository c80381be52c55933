import { bt1886Eotf } from '#core/colorimetry'
import type { ToneTarget } from '#core/judge'

/**
 * Luminance that a tone target asks for.
 * In: target, level 0…1, luminance of the display's white and black in cd/m². Out: cd/m². ITU-R BT.1886, annex 1, or a power with
 * black added.
 */
export const wantedLight = (
  tone: ToneTarget,
  level: number,
  { white, black }: { readonly white: number; readonly black: number },
): number =>
  tone === 'bt1886' ? bt1886Eotf(level, { white, black }) : (white - black) * level ** tone + black
