import { type ControlSheet, controlByRole, showValue } from '#core/display'
import { CASE_LABEL, type Policy } from '#core/judge'
import { boughtBy, copyingOf, endingOf, type Route } from '#core/plan'
import type { PanelKind } from '#core/protocol'
import { saySignal, signalKind } from '#core/signal'
import { type RouteFacts, STEP_TITLE } from '#core/steps'
import { sayTone } from '#core/target'
import { cautionsOf, goBackOf, memoryOf, orderOf, settledIn, troublesOf } from './advice'
import type { CaseDocument } from './case-document'
import { composeValues, measureOf, proposeSummary } from './compose'
import { guideHdrOf } from './hdr'

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
  /** Sizes of the model that are sold, inch. */
  readonly sizes: readonly number[]
}

/** One viewing case of a guide from its finished route. In: route, the facts that it was planned from, what it is about. Out: undefined where it was not read whole. */
export const composeCase = (route: Route, facts: RouteFacts, about: AboutCase): CaseDocument | undefined => {
  if (!route.before || !route.after) return undefined
  const { display, panelKind, policy, sheet } = about
  const [before, after] = [measureOf(route.before), measureOf(route.after)]
  const { mapping } = route.context.byRole
  const hdr = route.hdr && guideHdrOf(route.hdr, route.mappings ?? [], mapping && facts.state[mapping.key])
  const peak = hdr && Math.max(0, ...hdr.peakByWindow.map((w) => w.sustained))
  const copying = hdr ? [] : copyingOf(route)
  const values = composeValues(sheet, facts.state, route.derived, {
    copying,
    luminance: after.luminance,
    ...(peak === undefined ? {} : { peak }),
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
    },
    policy: { name: policy.name, preferences: route.preferences.map((p) => p.sentence) },
    limits: route.limits.map((l) => l.sentence),
    ending: [...endingOf(route, about.skipped).sentences],
    method: { heading: 'Calibrated with a meter', ...about.method },
    values,
    ...(hdr ? { hdr } : {}),
    before,
    after,
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
    cautions: cautionsOf(settled, panelKind),
    order: orderOf(settled),
    memory: memoryOf(settled),
  }
}
