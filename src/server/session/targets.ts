import { type Policy, targetsFor } from '#core/judge'
import type { SessionRow } from '#db'

/** Lowest and highest luminance of white that anyone would aim at, cd/m². */
const TARGET_RANGE = { min: 5, max: 4000 } as const

/** Says what is wrong with a target luminance, or undefined. In: cd/m². */
export const whyNotTarget = (luminance: number): string | undefined =>
  Number.isFinite(luminance) && luminance >= TARGET_RANGE.min && luminance <= TARGET_RANGE.max
    ? undefined
    : `The target luminance is a number of cd/m² between ${TARGET_RANGE.min} and ${TARGET_RANGE.max}.`

/** Columns of a session that a policy's targets for its room go into. */
export const targetColumns = (
  policy: Policy,
  { viewingCase }: Pick<SessionRow, 'viewingCase'>,
): Pick<SessionRow, 'targetLuminance' | 'targetX' | 'targetY' | 'tone'> => {
  const { luminance, white, tone } = targetsFor(policy, viewingCase)
  return { targetLuminance: luminance, targetX: white[0], targetY: white[1], tone: String(tone) }
}
