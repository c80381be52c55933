import { z } from 'zod'

const signal = z.number().min(0).max(1)

/** A test colour: a name and one signal for each channel, 0 for black to 1 for white. */
export const Patch = z.object({
  key: z.string().regex(/^[a-z0-9-]{1,40}$/),
  /** What people call it: "50 %", "Red". */
  label: z.string().min(1).max(40),
  /** Signals of red, green and blue, 0…1. */
  signal: z.tuple([signal, signal, signal]),
})
export type Patch = z.infer<typeof Patch>

/** A grey patch. In: level in percent, 0…100. */
export const grey = (percent: number): Patch => ({
  key: `grey-${percent}`,
  label: `${percent} %`,
  signal: [percent / 100, percent / 100, percent / 100],
})

export const RED: Patch = { key: 'red', label: 'Red', signal: [1, 0, 0] }
export const GREEN: Patch = { key: 'green', label: 'Green', signal: [0, 1, 0] }
export const BLUE: Patch = { key: 'blue', label: 'Blue', signal: [0, 0, 1] }

/** Level of a grey patch, 0…1, or undefined for a coloured one. */
export const greyLevel = ({ signal: [r, g, b] }: Patch): number | undefined =>
  r === g && g === b ? r : undefined

/**
 * Code values of a patch on a narrow-range link.
 * In: patch, bit depth. Out: one whole number for each channel. ITU-R BT.709-6, item 4.6: 16…235 at 8 bit, scaled.
 */
export const limitedCodes = (patch: Patch, bitDepth: 8 | 10): [number, number, number] => {
  const scale = 2 ** (bitDepth - 8)
  const [r, g, b] = patch.signal.map((s) => Math.round((16 + 219 * s) * scale))
  return [r!, g!, b!]
}

/** Signal of a narrow-range code value; below 0 and above 1 for the foot- and headroom. */
export const signalOfLimitedCode = (code: number, bitDepth: 8 | 10): number =>
  (code / 2 ** (bitDepth - 8) - 16) / 219
