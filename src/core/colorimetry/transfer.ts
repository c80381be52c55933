/**
 * Reference display curve with the black lift of the display at hand.
 * In: signal 0…1; `white` and `black` of the display in cd/m². Out: luminance in cd/m², `black` at 0, `white` at 1.
 * ITU-R BT.1886 (2011), annex 1.
 */
export const bt1886Eotf = (signal: number, { white, black }: { white: number; black: number }): number => {
  const w = white ** (1 / 2.4)
  const b = black ** (1 / 2.4)
  return Math.max(0, (w - b) * signal + b) ** 2.4
}

/**
 * Exponent that a level realises, the display's black taken off first.
 * In: signal 0…1 (exclusive), luminance of the level, white and black in cd/m². Out: exponent; NaN where the level is
 * not above black or where signal is 0 or 1 (every exponent fits there).
 * From L(V) = (Lw − Lb)·V^γ + Lb. Information Display Measurements Standard 1.03, 6.3.
 */
export const gammaAt = (
  signal: number,
  luminance: number,
  { white, black }: { white: number; black: number },
): number => {
  if (!(signal > 0 && signal < 1)) return Number.NaN
  return Math.log((luminance - black) / (white - black)) / Math.log(signal)
}

/**
 * Signal of a luminance on a reference display.
 * In: luminance; `white` and `black` of the display, all in cd/m². Out: signal, 0 at black or below, 1 at white. Inverse of ITU-R BT.1886.
 */
export const bt1886InverseEotf = (
  luminance: number,
  { white, black }: { white: number; black: number },
): number => {
  const w = white ** (1 / 2.4)
  const b = black ** (1 / 2.4)
  return (Math.max(black, luminance) ** (1 / 2.4) - b) / (w - b)
}
