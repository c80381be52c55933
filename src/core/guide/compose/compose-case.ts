import type { Chromaticity } from '#core/colorimetry'
import { type ControlSheet, controlByRole, showValue, slotOf } from '#core/display'
import type { RowKept } from '#core/entry'
import { type CaseDocument, type GuideMeasure, guideHdrOf } from '#core/guide/document'
import { CASE_LABEL, type Policy, type ViewingCase } from '#core/judge'
import { boughtBy, copyingOf, endingOf, type Route, spreadOfUnits } from '#core/plan'
import type { PanelKind } from '#core/protocol'
import { saySignal, signalKind } from '#core/signal'
import { gameCases, type RouteFacts, STEP_TITLE } from '#core/steps'
import { sayTone, type Targets, targetOn } from '#core/target'
import { cautionsOf, goBackOf, memoryOf, orderOf, settledIn, troublesOf } from './advice'
import { composeValues, measureOf, proposeSummary } from './compose'
import { gamesAndDesktopOf } from './games-and-desktop'
import { unmeasuredValues } from './unmeasured'

/** What a case is composed from beside its route: who was measured, with what, by whom. */
export interface AboutCase {
  readonly display: CaseDocument['display']
  readonly method: Omit<CaseDocument['method'], 'heading'>
  readonly panelKind: PanelKind
  readonly policy: Policy
  readonly sheet: ControlSheet
  readonly baseMode: string | null
  /** cd/m² */
  readonly targetLuminance: number
  /** Steps that were skipped, with the reason. */
  readonly skipped: Parameters<typeof endingOf>[1]
  /** White out of the box of other units of the same size, in the same mode. */
  readonly otherWhites?: readonly Chromaticity[]
  /** What a person entered without a measurement. */
  readonly rows?: readonly RowKept[]
  /** Sizes of the model that are sold, inch. */
  readonly sizes: readonly number[]
}

const NIGHT =
  'Bright, bluish white late in the evening can keep people awake: take the darkest row of the room table at night, or a warmer mode of the computer.'

const NIGHT_GAMES =
  'Bright, bluish light late in the evening can keep people awake: take a darker row of the room table at night, where there is one, and end in time.'

/** Ids of the readings of a sweep. */
export const sweepIds = (sweep: Route['verify']): number[] =>
  [...(sweep?.byPatch.values() ?? [])].map((reading) => reading.id)

/** Gamma that is wanted at each level between black and white. In: targets; what was measured at the end. */
const aimOf = (targets: Pick<Targets, 'tone' | 'white'>, { luminance, black, levels }: GuideMeasure) => {
  const { luminanceOf } = targetOn(targets, { white: luminance, black: black ?? 0 })
  return levels
    .filter(({ level }) => level > 0 && level < 1)
    .map(({ level }) => ({ level, gamma: Math.log(luminanceOf(level) / luminance) / Math.log(level) }))
}

/** Values that stand where another case of the display keeps its own, and that this one has not set itself: by control, the case. */
const inheritedIn = ({
  sheet,
  state,
  signal,
  occupied,
  adjustments,
}: RouteFacts): Map<string, ViewingCase> => {
  const set = new Set(adjustments.flatMap((a) => a.changes.map((c) => c.control)))
  const kind = signalKind(signal)
  return new Map(
    occupied.flatMap(({ control: key, slot, value, viewingCase }) => {
      const control = sheet.controls.find((c) => c.key === key)
      return control && !set.has(key) && state[key] === value && slotOf(sheet, control, state, kind) === slot
        ? [[key, viewingCase] as const]
        : []
    }),
  )
}

/** One viewing case of a guide from its finished route. In: route, the facts that it was planned from, what it is about. Out: undefined where it was not read whole. */
export const composeCase = (route: Route, facts: RouteFacts, about: AboutCase): CaseDocument | undefined => {
  if (!route.before || !route.after) return undefined
  const { display, panelKind, policy, sheet } = about
  const [before, after] = [measureOf(route.before), measureOf(route.after)]
  const { mapping } = route.context.byRole
  const hdr = route.hdr && guideHdrOf(route.hdr, route.mappings ?? [], mapping && facts.state[mapping.key])
  const play = gamesAndDesktopOf(route, facts.state)
  const peak = hdr && Math.max(0, ...hdr.peakByWindow.map((w) => w.sustained))
  // White out of the box of this unit and of others, in one mode.
  const whites = [before.whiteXy!, ...(about.otherWhites ?? [])]
  const spread = spreadOfUnits(whites)
  const copying = hdr ? [] : copyingOf(route, { spread })
  const values = composeValues(sheet, facts.state, route.derived, {
    copying,
    luminance: after.luminance,
    ...(peak === undefined ? {} : { peak }),
    inherited: inheritedIn(facts),
    publish: policy.publish,
  })
  const mode = controlByRole(sheet, 'picture-mode')
  const baseMode = mode && about.baseMode !== null ? showValue(mode, about.baseMode) : 'one mode only'
  const caseLabel = CASE_LABEL[facts.viewingCase]
  const settled = settledIn(sheet, facts.state, signalKind(facts.signal))
  const light = route.luminance && sheet.controls.find((c) => c.key === route.luminance?.control)
  return {
    format: 'wexmar-guide/1',
    title: `${display.maker} ${display.model} ${display.sizeInch} settings`,
    summary: proposeSummary({
      baseMode,
      sizeInch: display.sizeInch,
      caseLabel,
      before,
      after,
      values,
      hdr,
    }),
    display,
    viewingCase: { key: facts.viewingCase, label: caseLabel },
    baseMode,
    targets: {
      luminance: about.targetLuminance,
      white: policy.white.name,
      tone: hdr ? 'PQ' : sayTone(facts.targets.tone),
      whitePoint: [facts.targets.white[0], facts.targets.white[1]],
      toneKey: String(facts.targets.tone),
    },
    policy: { name: policy.name, preferences: route.preferences.map((p) => p.sentence) },
    limits: route.limits.map((l) => l.sentence),
    ending: [...endingOf(route, about.skipped).sentences],
    method: { heading: 'Calibrated with a meter', ...about.method },
    values: [...values, ...unmeasuredValues(sheet, about.rows ?? [])],
    ...(hdr ? { hdr } : {}),
    ...(play ? { play } : {}),
    before,
    after,
    verification: sweepIds(route.verify),
    worse: route.worse.map((w) => w.sentence),
    otherSizes: [...new Set(about.sizes)].filter((s) => s !== display.sizeInch),
    panelKind,
    signal: saySignal(facts.signal),
    bought: hdr
      ? []
      : boughtBy(route).map(({ step, error }) => ({
          title: step === 'preset' ? 'White preset' : STEP_TITLE[step],
          error,
        })),
    copying,
    copyingSpread: { channels: spread.channels, units: whites.length },
    aim: hdr ? [] : aimOf(facts.targets, after),
    room: light
      ? route.luminance!.room.map(({ target, expected, value, between }) => ({
          target,
          expected,
          shown: showValue(light, value),
          extrapolated: !between,
        }))
      : [],
    troubles: troublesOf(settled, peak ?? after.luminance),
    goBack: goBackOf(settled),
    cautions: [
      ...cautionsOf(settled, panelKind),
      ...(facts.viewingCase === 'desktop' ? [NIGHT] : gameCases(facts) ? [NIGHT_GAMES] : []),
    ],
    order: orderOf(settled),
    memory: memoryOf(settled),
  }
}
