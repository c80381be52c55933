import { z } from 'zod'
import {
  BT1886_CURVE,
  type Curve,
  HLG_CURVE,
  PQ_BALANCE_CURVE,
  PQ_CURVE,
  powerCurve,
  SRGB_CURVE,
} from './curves'

/** Tone that a policy aims at in SDR: an exponent, or BT.1886 with the display's own black. */
export const ToneTarget = z.union([z.literal('bt1886'), z.number().min(1.6).max(2.8)], {
  error: 'Gamma lies between 1.6 and 2.8, or is bt1886.',
})
export type ToneTarget = z.infer<typeof ToneTarget>

/** Tone of any viewing case. */
export type Tone = ToneTarget | 'srgb' | 'pq' | 'pq-balance' | 'hlg'

const NAMED: Readonly<Record<Exclude<Tone, number>, Curve>> = {
  bt1886: BT1886_CURVE,
  srgb: SRGB_CURVE,
  pq: PQ_CURVE,
  'pq-balance': PQ_BALANCE_CURVE,
  hlg: HLG_CURVE,
}

/** Whether a text is one that a tone is kept as. */
export const isTone = (text: string): boolean =>
  Object.hasOwn(NAMED, text) || ToneTarget.safeParse(Number(text)).success

/** A tone from the text that it is kept as. Errors: throws where it is none, since only tones are kept. */
export const toneFrom = (text: string): Tone => {
  if (Object.hasOwn(NAMED, text)) return text as Exclude<Tone, number>
  const exponent = Number(text)
  if (!Number.isFinite(exponent)) throw new Error(`${text} is no tone`)
  return exponent
}

/** The curve of a tone. */
export const curveOf = (tone: Tone): Curve => (typeof tone === 'number' ? powerCurve(tone) : NAMED[tone])

/** A tone in words: "BT.1886", "2.20". */
export const sayTone = (tone: Tone): string => curveOf(tone).name
