import type { BitDepth, Range } from './format'

/**
 * Code value of a signal.
 * In: signal, 0 for black to 1 for white; bit depth; range. Out: a whole number within the link's codes.
 * ITU-R BT.709-6, item 4.6 (narrow: 16…235 at 8 bit, scaled); ITU-R BT.2100-2, table 9 (full: 0…2ⁿ − 1).
 */
export const codeOf = (signal: number, bitDepth: BitDepth, range: Range): number => {
  const top = 2 ** bitDepth - 1
  const code = range === 'limited' ? (16 + 219 * signal) * 2 ** (bitDepth - 8) : signal * top
  return Math.min(top, Math.max(0, Math.round(code)))
}

/** Signal of a code value; below 0 and above 1 for the foot- and headroom of the narrow range. */
export const signalOf = (code: number, bitDepth: BitDepth, range: Range): number =>
  range === 'limited' ? (code / 2 ** (bitDepth - 8) - 16) / 219 : code / (2 ** bitDepth - 1)
