/** A luminance as people write it, without its unit: thousands apart, two digits below 20. In: cd/m². */
export const sayCd = (luminance: number): string =>
  luminance >= 20
    ? Math.round(luminance).toLocaleString('en-GB')
    : luminance.toLocaleString('en-GB', { maximumSignificantDigits: 2 })

/** The same with its unit. */
export const sayLuminance = (luminance: number): string => `${sayCd(luminance)} cd/m²`

/** A share in whole percent, without its sign. */
export const sayPercent = (share: number): string => `${Math.abs(Math.round(100 * share))} %`
