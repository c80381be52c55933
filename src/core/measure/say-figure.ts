/** A figure in whole numbers as all of Wexmar writes it: 3,213. */
export const sayWhole = (figure: number): string => Math.round(figure).toLocaleString('en-GB')

const MONTHS = 'January February March April May June July August September October November December'.split(
  ' ',
)

/** A day as all of Wexmar writes it: 29 November 2026. In: YYYY-MM-DD, or a moment that begins so; what is neither stays as it is. */
export const sayDay = (iso: string): string => {
  const [, year, month, day] = /^(\d{4})-(\d{2})-(\d{2})/.exec(iso) ?? []
  const name = MONTHS[Number(month) - 1]
  return year && name ? `${Number(day)} ${name} ${year}` : iso
}
