import { z } from 'zod'
import { Policy, type Room } from '#core/judge'
import { numberTyped, typedNumber } from './number'

const { luminance, tone, white, worthAMinute } = Policy.shape
const number = typedNumber((text) => (text.trim() ? `“${text}” is not a number.` : 'A number is missing.'))

/** Tone as it is typed: an exponent, or bt1886. */
const typedTone = z.string().transform((text, context): number | 'bt1886' => {
  const value = text.trim().toLowerCase() === 'bt1886' ? 'bt1886' : numberTyped(text)
  if (value !== undefined) return value
  context.addIssue({ code: 'custom', message: 'Write an exponent, for example 2.2, or bt1886.' })
  return z.NEVER
})

/** A policy of a reviewer's own as it is typed into a form. */
export const PolicyEntry = Policy.omit({ format: true, key: true }).extend({
  luminance: z
    .object({ dark: number, bright: number, game: number, desktop: number })
    .pipe(luminance.required()),
  tone: z
    .object({ dark: typedTone, bright: typedTone, game: typedTone, desktop: typedTone })
    .pipe(tone.required()),
  white: z.object({ x: number, y: number, name: z.string() }).pipe(white),
  worthAMinute: number.pipe(worthAMinute.unwrap()),
})

const perRoom = <T>(of: (room: Room) => T) => ({
  dark: of('dark'),
  bright: of('bright'),
  game: of('game'),
  desktop: of('desktop'),
})

/** A policy as a form begins with it. */
export const policyTyped = ({ format: _, key: __, ...policy }: Policy): z.input<typeof PolicyEntry> => ({
  ...policy,
  luminance: perRoom((room) => String(policy.luminance[room])),
  tone: perRoom((room) => String(policy.tone[room])),
  worthAMinute: String(policy.worthAMinute),
  white: { name: policy.white.name, x: String(policy.white.x), y: String(policy.white.y) },
})
