import type { Derived } from '#core/derive'
import {
  type Control,
  type ControlSheet,
  factoryState,
  MOVES_BY_ITSELF,
  ROLE_MEANING,
  type State,
  showValue,
} from '#core/display'
import type { GreyVerdict } from '#core/judge'
import type { GuideMeasure, GuideValue } from './document'
import { transferClassOf } from './transfer'

const sentence = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`

const whyOf = (
  control: Control,
  changed: boolean,
  derived: Derived | undefined,
  luminance: number,
): string => {
  const caution = control.caution ? `${control.caution} ` : ''
  if (control.role === 'picture-mode') return 'The mode that all the values below belong to.'
  if (MOVES_BY_ITSELF.has(control.role))
    return changed
      ? `${sentence(ROLE_MEANING[control.role])} Off, or the values below do not hold.`
      : sentence(ROLE_MEANING[control.role])
  if (control.role === 'peak-luminance' && derived)
    return `${caution || `${sentence(ROLE_MEANING[control.role])} `}This gave ${luminance.toFixed(0)} cd/m² in white.`
  if ((control.role === 'gain' || control.role === 'cut') && !changed)
    return control.channel === 'green'
      ? 'Left alone on purpose: it moves luminance most.'
      : 'Needs no change here.'
  if (!changed) return caution.trim() || `${sentence(ROLE_MEANING[control.role])} Left as it comes.`
  return `${caution}${sentence(ROLE_MEANING[control.role])}`
}

/**
 * The values of a guide in menu order: every control of the picture, changed or not, so that none is missing.
 * In: sheet, final state, values that the route derived, luminance of white in the final state (cd/m²).
 */
export const composeValues = (
  sheet: ControlSheet,
  state: State,
  derived: readonly Derived[],
  luminance: number,
): GuideValue[] => {
  const factory = factoryState(sheet)
  return sheet.controls
    .filter((c) => c.role !== 'sound')
    .map((control): GuideValue => {
      const value = state[control.key] ?? control.default
      const comes = factory[control.key] ?? control.default
      const own = derived.find((d) => d.control === control.key)
      const changed = value !== comes
      return {
        control: control.key,
        path: control.path,
        label: control.label,
        role: control.role,
        value,
        shown: showValue(control, value),
        comesAs: showValue(control, comes),
        changed,
        transfer: transferClassOf(control.role),
        origin: own ? 'derived' : changed ? 'set-by-hand' : 'as-it-comes',
        why: whyOf(control, changed, own, luminance),
        rule: own?.rule ?? (control.role === 'picture-mode' ? 'base mode chosen by the reviewer' : ''),
        readings: [...(own?.basis ?? [])],
      }
    })
}

/** A verdict in the shape in which a guide keeps it. */
export const measureOf = (verdict: GreyVerdict): GuideMeasure => ({
  luminance: verdict.white.luminance,
  black: verdict.black ?? null,
  contrast: verdict.contrast ?? null,
  gamma: verdict.gamma ?? null,
  cct: verdict.white.cct,
  duv: verdict.white.duv,
  whiteError: { average: verdict.whiteError.average, worst: verdict.whiteError.worst },
  fullError: verdict.fullError,
  levels: verdict.levels.map((l) => ({
    level: l.level,
    luminance: l.luminance,
    gamma: l.gamma ?? null,
    whiteError: l.whiteError,
    deltaUv: l.deltaUv,
  })),
})

/**
 * What got worse between two sweeps, beyond the scatter of reading, in sentences.
 * In: before and after, `noise` of an average ΔE00, wanted exponent.
 */
export const worseThanBefore = (
  before: GuideMeasure,
  after: GuideMeasure,
  noise: number,
  wantedGamma?: number,
): string[] => {
  const out: string[] = []
  const compare = (name: string, a: number, b: number, margin: number) => {
    if (b > a + margin) out.push(`${name} rose from ${a.toFixed(1)} to ${b.toFixed(1)}.`)
  }
  compare('Average white error', before.whiteError.average, after.whiteError.average, 2 * noise)
  compare('Worst white error', before.whiteError.worst, after.whiteError.worst, 6 * noise)
  compare(
    'Average grey error with luminance',
    before.fullError.average,
    after.fullError.average,
    2 * noise + 0.1,
  )
  if (before.contrast && after.contrast && after.contrast < 0.93 * before.contrast)
    out.push(`Contrast fell from ${before.contrast.toFixed(0)} to ${after.contrast.toFixed(0)}.`)
  if (wantedGamma && before.gamma && after.gamma) {
    const was = Math.abs(before.gamma - wantedGamma)
    const is = Math.abs(after.gamma - wantedGamma)
    if (is > was + 0.03)
      out.push(
        `The tone exponent moved from ${before.gamma.toFixed(2)} to ${after.gamma.toFixed(2)}; ${wantedGamma.toFixed(2)} is wanted.`,
      )
  }
  return out
}

/** First words for a guide that its editor may change. */
export const proposeSummary = (input: {
  baseMode: string
  sizeInch: number
  caseLabel: string
  before: GuideMeasure
  after: GuideMeasure
  values: readonly GuideValue[]
}): string => {
  const { before, after, values } = input
  const changed = values.filter((v) => v.changed).length
  const good = before.whiteError.average < 1 && before.luminance < 1.3 * after.luminance
  const first = good
    ? `Out of the box “${input.baseMode}” is already good.`
    : `In “${input.baseMode}”, with ${changed - 1} more changes, white goes from ${before.luminance.toFixed(0)} to ${after.luminance.toFixed(0)} cd/m² and its error from ΔE00 ${before.whiteError.average.toFixed(1)} to ${after.whiteError.average.toFixed(1)}.`
  return `${first} Measured with a meter on one ${input.sizeInch}-inch unit, for ${input.caseLabel}.`
}

/** An address part from a name: lower-case letters, digits and hyphens. */
export const slugOf = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80) || 'guide'
