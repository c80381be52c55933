/** What a figure in a text may be by its unit. */
export type Unit = 'kelvin' | 'difference' | 'other'

/** What of a guide is no figure that a text may speak of. */
const NO_FIGURES: ReadonlySet<string> = new Set(['words', 'memory', 'readings', 'title', 'summary'])

/** Every number that a guide measured or sets, by the unit in which a text would give it. */
export const figuresOf = (value: unknown, into: Record<Unit, number[]>, unit: Unit = 'other'): void => {
  if (typeof value === 'number') into[unit].push(value)
  else if (typeof value === 'string')
    for (const [, before, digits, after] of value.matchAll(WITH_UNIT))
      into[unitOf(before, after)].push(Number(digits!.replaceAll(',', '')))
  else if (Array.isArray(value)) for (const v of value) figuresOf(v, into, unit)
  else if (value && typeof value === 'object')
    for (const [key, v] of Object.entries(value))
      if (!NO_FIGURES.has(key))
        figuresOf(v, into, key === 'cct' ? 'kelvin' : ERRORS.test(key) ? 'difference' : unit)
}
/** Keys under which errors stand. */
const ERRORS = /error|nearBlack|natural|six|tracking|average|worst/i
const unitOf = (before: string | undefined, after: string | undefined): Unit =>
  before ? 'difference' : after?.trim() === 'K' ? 'kelvin' : 'other'
const WITH_UNIT =
  /(ΔE(?:00| ITP)?(?:\s+(?:is|was|of|from|to|at|now))*\s*)?(\d+(?:,\d{3})*(?:\.\d+)?)(\s*(?:cd\/m²|nits?\b|K\b|ms\b))?/g
/** Share by which a figure in a text may be rounded. */
const ROUNDED = 0.005

/** Figures with a unit in a text that are not those of the guide. */
export const strangeFigures = (text: string, figures: Readonly<Record<Unit, readonly number[]>>): string[] =>
  [...text.matchAll(WITH_UNIT)].flatMap(([all, before, digits, unit]) => {
    if (!before && !unit) return []
    const number = Number(digits!.replaceAll(',', ''))
    const near = 0.51 * 10 ** -(digits!.split('.')[1]?.length ?? 0)
    const most = Math.max(near, unit ? ROUNDED * number : 0)
    const known = figures[unitOf(before, unit)]
    return known.some((f) => Math.abs(f - number) <= most) ? [] : [all.trim()]
  })
