import {
  AUTOMATIC_PROCESSING,
  BY_THE_DOZEN,
  type Control,
  type ControlSheet,
  isOfPicture,
  ROLE_MEANING,
  type Role,
  type State,
  showValue,
} from '#core/display'
import {
  type GuideCopying,
  type GuideHdr,
  type GuideMeasure,
  type GuideValue,
  transferClassOf,
} from '#core/guide/document'
import { CASE_LABEL, type Policy, type ViewingCase } from '#core/judge'
import { sayWhole } from '#core/measure'
import type { SignalKind } from '#core/signal'
import type { CaseVerdict, Derived } from '#core/steps'
import { settledIn } from './advice'

const sentence = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`

const whyOf = (
  control: Control,
  changed: boolean,
  derived: Derived | undefined,
  { luminance, peak }: Pick<Published, 'luminance' | 'peak'>,
): string => {
  const caution = control.caution ? `${control.caution} ` : ''
  if (control.role === 'picture-mode') return 'The mode that all the values below belong to.'
  if (AUTOMATIC_PROCESSING.has(control.role))
    return changed
      ? `${sentence(ROLE_MEANING[control.role])} ${control.role === 'power-saving' && derived?.readingIds.length ? sentence(derived.rule) : 'Off, or the values below do not hold.'}`
      : sentence(ROLE_MEANING[control.role])
  if (control.role === 'peak-luminance' && derived && luminance !== undefined)
    return `${caution || `${sentence(ROLE_MEANING[control.role])} `}${peak === undefined ? `This gave ${sayWhole(luminance)} cd/m² in white.` : `HDR needs all of it for highlights: up to ${sayWhole(peak)} cd/m².`}`
  // What each school costs is what readers ask about.
  if (control.role === 'tone-mapping' && derived) return `${caution}${derived.rule}`
  if ((control.role === 'gain' || control.role === 'cut') && !changed)
    return control.channel === 'green'
      ? 'Left alone on purpose: it changes luminance most.'
      : 'Needs no change here.'
  if (!changed) return caution.trim() || `${sentence(ROLE_MEANING[control.role])} Left at its default.`
  return `${caution}${sentence(ROLE_MEANING[control.role])}`
}

/** What of a calibration is published beside its values. */
interface Published {
  /** Luminance of white in the final state, cd/m²; left out where it was not measured. */
  readonly luminance?: number
  /** Of HDR: the highest peak, cd/m². */
  readonly peak?: number
  /** Kind of signal; that of SDR where it is left out and no peak is given. */
  readonly kind?: SignalKind
  /** What copying white values does to other units. */
  readonly copying?: readonly GuideCopying[]
  /** Controls whose value another case of the display has set where this one uses it, by key. */
  readonly inherited?: ReadonlyMap<string, ViewingCase>
  /** Which white values of the unit the policy publishes. */
  readonly publish: Policy['publish']
}

/** White values that a policy does not publish. */
const WITHHELD: Readonly<Record<Policy['publish'], readonly Role[]>> = {
  all: [],
  'two-point': ['level-white', 'level-tone'],
  none: ['gain', 'cut', 'level-white', 'level-tone'],
}

/**
 * The values of a guide in menu order: every control of the picture, changed or not, so that none is missing.
 * In: sheet, final state, values that the route derived; what is published beside them.
 */
export const composeValues = (
  sheet: ControlSheet,
  state: State,
  derived: readonly Derived[],
  published: Published,
): GuideValue[] => {
  const { publish } = published
  const { factory } = settledIn(sheet, state, published.kind ?? (published.peak === undefined ? 'sdr' : 'pq'))
  const untouched = untouchedGroups(sheet, state, factory)
  const withheld = withheldGroups(sheet, state, factory, WITHHELD[publish])
  const groups = [...untouched, ...withheld]
  return sheet.controls
    .filter((c) => isOfPicture(c) && !groups.some((g) => g.slice(1).includes(c)))
    .map((control): GuideValue => {
      const group = untouched.find((g) => g[0] === control)
      if (group) return groupValue(group, state)
      const kept = withheld.find((g) => g[0] === control)
      if (kept) return withheldValue(kept, state, factory)
      const value = state[control.key] ?? control.default
      const comes = factory[control.key] ?? control.default
      const own = derived.find((d) => d.control === control.key)
      const changed = value !== comes
      const from = own || !changed ? undefined : published.inherited?.get(control.key)
      return {
        control: control.key,
        path: control.path,
        label: control.label,
        role: control.role,
        value,
        shown: showValue(control, value),
        comesAs: showValue(control, comes),
        changed,
        transfer: transferClassOf(control.role, published.copying),
        origin: own ? 'derived' : from ? 'inherited' : changed ? 'set-by-hand' : 'as-it-comes',
        why: whyOf(control, changed, own, published),
        rule:
          own?.rule ??
          (control.role === 'picture-mode'
            ? 'base mode chosen by the reviewer'
            : from
              ? `as set for ${CASE_LABEL[from]}: the display keeps one value for both`
              : ''),
        ...(from ? { from } : {}),
        readings: [...(own?.readingIds ?? [])],
      }
    })
}

/** Whether controls of a role come by the dozen: levels and colours. */
export const isByTheDozen = (role: Role): boolean => BY_THE_DOZEN.has(role)

/** Groups of like controls of which none was changed: a guide names each group once instead of sixty zeros. */
const untouchedGroups = (sheet: ControlSheet, state: State, factory: State): Control[][] => {
  const groups = new Map<string, Control[]>()
  for (const control of sheet.controls) {
    if (!BY_THE_DOZEN.has(control.role) || (control.level === undefined && control.colour === undefined))
      continue
    const key = control.path.slice(0, -1).join('›')
    groups.set(key, [...(groups.get(key) ?? []), control])
  }
  return [...groups.values()].filter(
    (g) => g.length > 3 && g.every((c) => (state[c.key] ?? c.default) === factory[c.key]),
  )
}

/** Groups of white values that were changed and that the policy keeps to itself: the controls of each role together. */
const withheldGroups = (
  sheet: ControlSheet,
  state: State,
  factory: State,
  roles: readonly Role[],
): Control[][] =>
  roles.flatMap((role) => {
    const group = sheet.controls.filter((c) => c.role === role)
    return group.some((c) => (state[c.key] ?? c.default) !== factory[c.key]) ? [group] : []
  })

const withheldValue = (group: readonly Control[], state: State, factory: State): GuideValue => {
  const first = group[0]!
  return {
    control: first.key,
    path: first.path.slice(0, -1),
    label: first.path.at(-1) ?? first.label,
    role: first.role,
    value: state[first.key] ?? first.default,
    shown: 'not published',
    comesAs: showValue(first, factory[first.key] ?? first.default),
    changed: false,
    transfer: transferClassOf(first.role),
    origin: 'derived',
    why: `${group.length} values that fit this unit alone: leave them at their defaults.`,
    rule: 'kept to this unit by policy',
    covers: group.map((c) => c.key),
    withheld: true,
    readings: [],
  }
}

const groupValue = (group: readonly Control[], state: State): GuideValue => {
  const first = group[0]!
  const shown = showValue(first, state[first.key] ?? first.default)
  const alike = group.every((c) => showValue(c, state[c.key] ?? c.default) === shown)
  const all = alike ? `all ${shown}` : 'as they come'
  return {
    control: first.key,
    path: first.path.slice(0, -2),
    label: first.path.at(-2) ?? first.label,
    role: first.role,
    value: state[first.key] ?? first.default,
    shown: all,
    comesAs: all,
    changed: false,
    transfer: transferClassOf(first.role),
    origin: 'as-it-comes',
    why: `${group.length} values, none of which needed a change.`,
    rule: '',
    covers: group.map((c) => c.key),
    readings: [],
  }
}

/** A verdict in the shape in which a guide keeps it. */
export const measureOf = ({ grey, natural, six }: CaseVerdict): GuideMeasure => ({
  luminance: grey.white.luminance,
  black: grey.black ?? null,
  contrast: grey.contrast ?? null,
  gamma: grey.gamma ?? null,
  cct: grey.white.cct,
  duv: grey.white.duv,
  whiteXy: [grey.white.xy[0], grey.white.xy[1]],
  whiteError: { average: grey.whiteError.average, worst: grey.whiteError.worst },
  fullError: grey.fullError,
  ...(grey.nearBlack ? { nearBlack: { average: grey.nearBlack.average, worst: grey.nearBlack.worst } } : {}),
  ...(natural ? { natural: { ...natural } } : {}),
  ...(six ? { six: { ...six } } : {}),
  levels: grey.levels.map((l) => ({
    level: l.level,
    luminance: l.luminance,
    gamma: l.gamma ?? null,
    whiteError: l.whiteError,
    deltaUv: l.deltaUv,
  })),
})

/** First words for a guide that its editor may change. */
export const proposeSummary = (input: {
  baseMode: string
  sizeInch: number
  caseLabel: string
  before: GuideMeasure
  after: GuideMeasure
  values: readonly GuideValue[]
  hdr?: GuideHdr | undefined
}): string => {
  const { before, after, values, hdr } = input
  const changed = values.filter((v) => v.changed).length
  const good = before.whiteError.average < 1 && before.luminance < 1.3 * after.luminance
  const peak = hdr && Math.max(0, ...hdr.peakByWindow.map((w) => w.sustained))
  const first = hdr
    ? `In “${input.baseMode}”${changed > 1 ? `, with ${moreChanges(changed - 1)}` : ''}: ${hdr.knee === null ? '' : `follows PQ up to ${sayWhole(hdr.knee)} cd/m², `}${peak ? `a peak of ${sayWhole(peak)} cd/m², ` : ''}average grey error from ΔE00 ${before.whiteError.average.toFixed(1)} to ${after.whiteError.average.toFixed(1)}.`
    : good
      ? `Out of the box “${input.baseMode}” is already good.`
      : `In “${input.baseMode}”${changed > 1 ? ` with ${moreChanges(changed - 1)}` : ''}, white goes from ${sayWhole(before.luminance)} to ${sayWhole(after.luminance)} cd/m² and the average grey error from ΔE00 ${before.whiteError.average.toFixed(1)} to ${after.whiteError.average.toFixed(1)}.`
  return `${first} Measured with a meter on one ${input.sizeInch}-inch unit, for ${input.caseLabel}.`
}

const moreChanges = (n: number): string =>
  n === 1 ? 'one other setting changed' : `${n} other settings changed`

/** An address part from a name: lower-case letters, digits and hyphens. In: name; what stands for one that has none of them. */
export const slugOf = (text: string, without = 'guide'): string =>
  text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80) || without
