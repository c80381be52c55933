import { SPEECH } from '#core/guide/formats'
/** A row id from an address, or undefined where the text is none. */
export const idOf = (text: string): number | undefined =>
  /^[1-9]\d{0,8}$/.test(text) ? Number(text) : undefined

/** Filters of a list that an address asks for, by name; empty where it asks for none. */
export const filterWish = <N extends string>(
  params: Readonly<Record<string, string | string[] | undefined>>,
  names: readonly N[],
): Record<N, string> =>
  Object.fromEntries(
    names.map((name) => {
      const value = params[name]
      return [name, ((Array.isArray(value) ? value[0] : value) ?? '').slice(0, 80)]
    }),
  ) as Record<N, string>

/** The part of a list that an address asks for: `q` and `page`; what makes no sense is left out. */
export const listWish = (
  params: Readonly<Record<string, string | string[] | undefined>>,
): { search: string; page: number } => {
  const one = (name: string) => {
    const value = params[name]
    return (Array.isArray(value) ? value[0] : value) ?? ''
  }
  return { search: one('q').slice(0, 100), page: idOf(one('page')) ?? 1 }
}

/** Words a minute that an address asks for, within what people speak. */
export const speechIn = (value: string | string[] | null | undefined): number => {
  const asked = Number(value)
  return Number.isFinite(asked) && asked > 0
    ? Math.min(SPEECH.quickest, Math.max(SPEECH.slowest, asked))
    : SPEECH.usual
}
