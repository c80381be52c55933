/** A figure in whole numbers as all of Wexmar writes it: 3,213. */
export const sayWhole = (figure: number): string => Math.round(figure).toLocaleString('en-GB')
