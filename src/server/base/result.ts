/** What a use case answers where a user can be in the wrong: the value, or a sentence that says what happened, what was kept and what to do. */
export type Result<T> = { ok: true; value: T } | { ok: false; error: string; field?: string }

export const good = <T>(value: T): Result<T> => ({ ok: true, value })
export const bad = (error: string, field?: string): { ok: false; error: string; field?: string } => ({
  ok: false,
  error,
  ...(field ? { field } : {}),
})
