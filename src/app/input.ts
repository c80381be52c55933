/** What arrives at an action from outside may be anything, whatever its signature says. */

/** A row id, or 0, which no row has. */
export const idIn = (value: unknown): number =>
  typeof value === 'number' && Number.isSafeInteger(value) && value > 0 && value < 1_000_000_000 ? value : 0

/** A short text, or an empty one. */
export const textIn = (value: unknown): string => (typeof value === 'string' ? value.slice(0, 500) : '')

/** A form, or an empty one. */
export const formIn = (value: unknown): FormData => (value instanceof FormData ? value : new FormData())

/** What was typed into a form, so that one that is refused keeps it. */
export const typedIn = (value: unknown): Record<string, string> =>
  Object.fromEntries(
    [...formIn(value)].flatMap(([k, v]) => (typeof v === 'string' && !k.startsWith('$') ? [[k, v]] : [])),
  )
