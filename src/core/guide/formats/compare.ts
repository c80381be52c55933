import { ROLE_TERM } from '#core/display'
import { isByTheDozen } from '#core/guide/compose'
import {
  type CaseDocument,
  type GuideDocument,
  type GuideMeasure,
  type GuideValue,
  measuredIn,
} from '#core/guide/document'
import { ViewingCase } from '#core/judge'

/** A measured figure of two guides side by side, each with its unit in words; null where a guide has none. */
export interface FigurePair {
  readonly name: string
  readonly a: string | null
  readonly b: string | null
}

/** A setting of two guides side by side: where it stands in each menu, and its value; null where a display has no such setting. */
export interface SettingPair {
  /** The trade's term for it. */
  readonly term: string
  readonly a: { readonly path: string; readonly shown: string } | null
  readonly b: { readonly path: string; readonly shown: string } | null
  /** Both are of one model and show another value. */
  readonly differs: boolean
}

/** A viewing case of two guides side by side; a document is undefined where a guide has no such case. */
export interface CasePair {
  readonly key: string
  readonly label: string
  readonly a: CaseDocument | undefined
  readonly b: CaseDocument | undefined
  readonly figures: readonly FigurePair[]
  readonly settings: readonly SettingPair[]
}

const number = (value: number | null | undefined, digits: number, unit = ''): string | null =>
  value === null || value === undefined
    ? null
    : `${value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits })}${unit}`

/** Figures of a case, by name, in the order in which they are shown. */
const figuresOf = (of: CaseDocument): ReadonlyMap<string, string | null> => {
  const measured = measuredIn(of)
  if (!measured) return new Map()
  const { before, after } = measured
  const { hdr } = of
  const colour = hdr ? 'ΔE ITP' : 'ΔE00'
  const measure = (of: GuideMeasure) =>
    [
      ['White', number(of.luminance, 0, ' cd/m²')],
      ['Black', number(of.black, 3, ' cd/m²')],
      ['Contrast', number(of.contrast, 0)],
      ['Greyscale, average', number(of.whiteError.average, 1, ' ΔE00')],
      ['Greyscale, worst', number(of.whiteError.worst, 1, ' ΔE00')],
      ['Memory colours, average', number(of.natural?.average, 1, ` ${colour}`)],
      ['White point', number(of.cct, 0, ' K')],
      ['Gamma', number(of.gamma, 2)],
    ] as const
  const peak = hdr && Math.max(...hdr.peakByWindow.map((w) => w.sustained))
  return new Map<string, string | null>([
    ...(hdr
      ? measure(after).filter(([name]) => !/^(White|Black|Contrast|Gamma)$/.test(name))
      : measure(after)),
    ['Greyscale out of the box', number(before.whiteError.average, 1, ' ΔE00')],
    ...(hdr
      ? ([
          ['Peak after a minute', number(peak, 0, ' cd/m²')],
          ['Follows PQ up to', number(hdr.knee, 0, ' cd/m²')],
          ['Tracking, average', number(hdr.tracking?.average, 1, ' ΔE ITP')],
          ['BT.2020 covered', number(hdr.coverage && 100 * hdr.coverage.bt2020, 0, ' %')],
        ] as const)
      : []),
  ])
}

/** Settings of a case that stand for themselves, by what they are: those that come by the dozen fit one unit alone and compare with nothing. */
const settingsOf = (of: CaseDocument, sameMenu: boolean): Map<string, GuideValue> =>
  new Map(
    of.values
      .filter((v) => !v.covers && !v.withheld && !isByTheDozen(v.role))
      .toReversed()
      .map((v) => [sameMenu ? v.control : termOf(v), v]),
  )
const termOf = (v: GuideValue): string => ROLE_TERM[v.role] || v.label

const placed = (v: GuideValue | undefined) =>
  v ? { path: [...v.path, v.label].join(' › '), shown: v.shown } : null

const settingPairs = (
  a: CaseDocument | undefined,
  b: CaseDocument | undefined,
  sameMenu: boolean,
): SettingPair[] => {
  const [own, other] = [a, b].map((of) => (of ? settingsOf(of, sameMenu) : new Map<string, GuideValue>()))
  const keys = [...new Set([...[...own!.keys()].toReversed(), ...[...other!.keys()].toReversed()])]
  return keys.map((key) => {
    const [x, y] = [own!.get(key), other!.get(key)]
    return {
      term: termOf((x ?? y)!),
      a: placed(x),
      b: placed(y),
      // Values of two menus say nothing against each other.
      differs: sameMenu && x !== undefined && y !== undefined && x.shown !== y.shown,
    }
  })
}

/**
 * Two guides, or two revisions of one, side by side: measured figures and settings of each viewing case, in the order of use. Settings of one model
 * are held against each other control by control, those of two by what they do. In: both guides.
 */
export const compareGuides = (a: GuideDocument, b: GuideDocument): CasePair[] => {
  const sameMenu = a.display.maker === b.display.maker && a.display.model === b.display.model
  const at = (guide: GuideDocument, key: string) => guide.cases.find((c) => c.viewingCase.key === key)
  const keys = ViewingCase.options.filter((key) => at(a, key) || at(b, key))
  return keys.map((key) => {
    const [own, other] = [at(a, key), at(b, key)]
    const [x, y] = [own, other].map((of) => (of ? figuresOf(of) : new Map<string, string | null>()))
    const names = [...new Set([...x!.keys(), ...y!.keys()])]
    return {
      key,
      label: (own ?? other)!.viewingCase.label,
      a: own,
      b: other,
      figures: names
        .map((name) => ({ name, a: x!.get(name) ?? null, b: y!.get(name) ?? null }))
        .filter((f) => f.a !== null || f.b !== null),
      settings: settingPairs(own, other, sameMenu),
    }
  })
}
