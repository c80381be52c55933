/** How far a reader has got with a case: by control. */
export interface Progress {
  readonly done: readonly string[]
  readonly skipped: readonly string[]
}
export const NOTHING: Progress = { done: [], skipped: [] }

/** Takes what was kept for what it is; anything else counts as nothing. */
export const progressIn = (kept: string | null): Progress => {
  try {
    const { done, skipped } = JSON.parse(kept ?? '{}') as Partial<Record<keyof Progress, unknown>>
    const words = (list: unknown): string[] =>
      Array.isArray(list) ? list.filter((w): w is string => typeof w === 'string').slice(0, 500) : []
    return { done: words(done), skipped: words(skipped) }
  } catch {
    // Not JSON: somebody else wrote it.
    return NOTHING
  }
}

/** The control that comes next: the first that is neither set nor skipped. In: controls in their order; progress. Out: key, undefined at the end. */
export const nextOf = (controls: readonly string[], { done, skipped }: Progress): string | undefined =>
  controls.find((c) => !done.includes(c) && !skipped.includes(c))

/** Progress with a control set, skipped, or open again. */
export const withStep = (
  { done, skipped }: Progress,
  control: string,
  as: 'done' | 'skipped' | 'open',
): Progress => {
  const others = (list: readonly string[]) => list.filter((c) => c !== control)
  return {
    done: as === 'done' ? [...others(done), control] : others(done),
    skipped: as === 'skipped' ? [...others(skipped), control] : others(skipped),
  }
}
