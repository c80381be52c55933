import { controlByRole, type State, showValue } from '#core/display'
import type { CaseDocument } from '#core/guide/document'
import { CASE_LABEL, type ViewingCase } from '#core/judge'
import { type SignalFormat, saySignal, signalKind } from '#core/signal'
import { cautionsOf, goBackOf, memoryOf, orderOf, settledIn, troublesOf } from './advice'
import { composeValues } from './compose'
import type { AboutCase } from './compose-case'
import { unmeasuredValues } from './unmeasured'

/** What a case that was set by eye is composed from: its settings, and under which signal. */
export interface SetByEye {
  readonly viewingCase: ViewingCase
  readonly state: State
  readonly signal: SignalFormat
  /** What was looked at, in words: questions and answers of patterns. */
  readonly looked: readonly string[]
}

/** One viewing case of a guide that was set by eye: named as such, and without a figure that nobody measured. In: settings, what it is about. */
export const composeByEye = (
  { viewingCase, state, signal, looked }: SetByEye,
  { display, panelKind, policy, sheet, baseMode, targetLuminance, method, sizes, rows = [] }: AboutCase,
): CaseDocument => {
  const kind = signalKind(signal)
  const settled = settledIn(sheet, state, kind)
  // Single levels cannot be set by eye: what stands there is left out by none.
  const values = [
    ...composeValues(sheet, state, [], { kind, publish: policy.publish }),
    ...unmeasuredValues(sheet, rows),
  ]
  const mode = controlByRole(sheet, 'picture-mode')
  const base = mode ? showValue(mode, state[mode.key] ?? baseMode ?? mode.default) : 'one mode only'
  const changed = values.filter((v) => v.changed && v.role !== 'picture-mode').length
  const caseLabel = CASE_LABEL[viewingCase]
  return {
    format: 'wexmar-guide/1',
    title: `${display.maker} ${display.model} ${display.sizeInch} settings`,
    summary: `Set by eye in “${base}”, with ${changed} more ${changed === 1 ? 'change' : 'changes'}, for ${caseLabel}. Nothing was measured: look at test pictures on your own display.`,
    display,
    viewingCase: { key: viewingCase, label: caseLabel },
    baseMode: base,
    targets: { luminance: targetLuminance, white: 'factory default', tone: 'factory default' },
    policy: { name: policy.name, preferences: [] },
    limits: ['Luminance, white and colours were not measured: they may be further off than an eye tells.'],
    ending: ['It ends where no pattern asks for more: there was no meter.'],
    method: { ...method, heading: 'Set by eye, not measured', meter: 'none', readings: 0 },
    values: values.map((v) => ({ ...v, readings: [] })),
    worse: [],
    otherSizes: [...new Set(sizes)].filter((s) => s !== display.sizeInch),
    panelKind,
    signal: saySignal(signal),
    bought: [],
    copying: [],
    room: [],
    ...(looked.length ? { looked: [...looked] } : {}),
    troubles: troublesOf(settled),
    goBack: goBackOf(settled),
    cautions: cautionsOf(settled, panelKind),
    order: orderOf(settled),
    memory: memoryOf(settled),
  }
}
