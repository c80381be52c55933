import type { Control, ControlValue } from '#core/display'
import { placeOf, placesOf, shown, valueAt } from '#core/model'
import type { RouteContext } from '../facts/context'
import type { ToneOption } from '../facts/findings'
import { NAMES_AGREE } from '../tuning'

/** Whether a choice is named after ITU-R BT.1886. */
const isStandard = (name: string): boolean => /1886/.test(name)

/** The exponent that a choice is named after: “2.2”, “Gamma 22”. */
const exponentIn = (name: string): number | undefined => {
  const found = /(?:^|[^\d.,])([12])[.,](\d{1,2})(?!\d)/.exec(name)
  if (found) return Number(`${found[1]}.${found[2]}`)
  const whole = /(?:^|[^\d.,])(1[6-9]|2[0-9])(?![\d.,])/.exec(name)
  return whole ? Number(whole[1]) / 10 : undefined
}

/**
 * Exponents by the names of choices. Names may lie, but mostly all alike: how far apart they are is believed until two that were measured
 * contradict it. Out: exponent by value; undefined where names tell nothing.
 */
export const namedExponents = (
  control: Control,
  measured: ReadonlyArray<{ readonly value: ControlValue; readonly exponent: number }>,
): ReadonlyMap<ControlValue, number> | undefined => {
  if (control.kind !== 'choice') return undefined
  const named = new Map(
    control.choices.flatMap((c): Array<[ControlValue, number]> => {
      // The standard is no power law: its neighbours tell nothing of it.
      if (isStandard(c.label) || isStandard(c.value)) return []
      const exponent = exponentIn(c.label) ?? exponentIn(c.value)
      return exponent === undefined ? [] : [[c.value, exponent]]
    }),
  )
  const lies = measured.flatMap((o) => (named.has(o.value) ? [o.exponent - named.get(o.value)!] : []))
  const agree = lies.length > 0 && Math.max(...lies) - Math.min(...lies) <= NAMES_AGREE
  return named.size > 1 && new Set(named.values()).size === named.size && agree ? named : undefined
}

/** Exponents of values that were not measured here (`wanted`: the one that the target asks for), from response priors, from names or, for numbers, from their neighbours. */
export const guessOptions = (
  context: RouteContext,
  control: Control,
  options: readonly ToneOption[],
  wanted: number,
): ToneOption[] => {
  const { facts } = context
  const priors = facts.priors.filter((l) => l.kind === 'tone' && l.control === control.key)
  const from = options[0]
  if (!from) return []
  const named = namedExponents(control, options)
  // A choice that is named after the target is the first to look at.
  const standard = (v: ControlValue): boolean =>
    facts.targets.tone === 'bt1886' && (isStandard(shown(control, v)) || isStandard(String(v)))
  const sources = [
    (v: ControlValue) => priors.find((l) => l.choice === String(v))?.mean[0],
    (v: ControlValue) => named?.get(v),
  ]
  // The shape by which a curve differs from the target stays, whatever its exponent.
  const shapeOf = (o: ToneOption) => Math.max(0, o.off ** 2 - (o.exponent - wanted) ** 2)
  const values: ControlValue[] =
    control.kind === 'choice' ? control.choices.map((c) => c.value) : numericValues(control)
  return values.flatMap((value): ToneOption[] => {
    if (options.some((o) => o.value === value)) return []
    // How far a value lies from the nearest one that was measured, by the first source that knows both.
    const known = sources.flatMap((of) => {
      const own = of(value)
      if (own === undefined) return []
      const bases = options.flatMap((o) => {
        const base = of(o.value)
        return base === undefined ? [] : [{ option: o, apart: own - base }]
      })
      return bases.length ? [bases.reduce((a, b) => (Math.abs(b.apart) < Math.abs(a.apart) ? b : a))] : []
    })[0]
    const exponent =
      standard(value) && known === undefined
        ? wanted
        : known !== undefined
          ? known.option.exponent + known.apart
          : control.kind === 'number'
            ? between(control, options, value)
            : undefined
    const shape = shapeOf(known?.option ?? from)
    return exponent === undefined
      ? []
      : [
          {
            value,
            label: shown(control, value),
            exponent,
            off: standard(value)
              ? Math.abs(exponent - wanted)
              : Math.hypot(exponent - wanted, Math.sqrt(shape)),
            measured: false,
            readingIds: [],
          },
        ]
  })
}

const numericValues = (control: Control): number[] => {
  const { min, max, step } = placesOf(control)
  const n = Math.round((max - min) / step)
  return Array.from({ length: n + 1 }, (_, i) => Number(valueAt(control, min + i * step)))
}

/** Exponent of a number between, or beyond, those that were measured: straight lines. */
const between = (
  control: Control,
  options: readonly ToneOption[],
  value: ControlValue,
): number | undefined => {
  const points = options
    .map((o) => ({ x: placeOf(control, o.value), y: o.exponent }))
    .sort((a, b) => a.x - b.x)
  if (points.length < 2) return undefined
  const at = placeOf(control, value)
  let i = points.findIndex((p) => p.x >= at)
  if (i < 0) i = points.length - 1
  i = Math.max(1, i)
  const [a, b] = [points[i - 1]!, points[i]!]
  return a.y + ((b.y - a.y) * (at - a.x)) / (b.x - a.x)
}
