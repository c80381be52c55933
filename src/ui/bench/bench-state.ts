import type { Depth, StepKey } from '#core/steps'
import type { SessionView } from '#server/view'
import { type PanelKey, stepAtHand } from './evidence/panel-of-step'
import { NO_TICKS, type Ticks } from './next/ticks'

/** The window that lies over the bench. */
export type OpenWindow =
  | {
      readonly kind:
        | 'keys'
        | 'set'
        | 'target'
        | 'equipment'
        | 'sweep'
        | 'mode'
        | 'correct'
        | 'powered'
        | 'signal'
        | 'note'
        | 'readings'
    }
  | { readonly kind: 'reading'; readonly id: number }

/** What a person has opened, marked and typed on the bench page and the server has not heard of. */
export interface BenchState {
  readonly open: OpenWindow | undefined
  readonly logOpen: boolean
  /** Mode that is marked in the survey; undefined: the proposed one. */
  readonly marked: string | undefined
  /** Depth of multi-point white balance that is marked; undefined: the proposed one. */
  readonly depth: Depth | undefined
  /** Value of the tone mapping control that is marked; undefined: the proposed one. */
  readonly mapping: string | undefined
  /** Value that is tried in a visual check, with the question that it belongs to. */
  readonly tried: { readonly question: string; readonly value: string | number } | undefined
  readonly conditions: string
  /** What the menu shows instead of what was believed, by control; as it was typed. */
  readonly shown: Readonly<Record<string, string>>
  /** What was ticked of the values that a person sets. */
  readonly ticks: Ticks
  /** Panel of the evidence that was chosen, and the step at which that was. */
  readonly panel: { readonly key: PanelKey; readonly at: StepKey } | undefined
}

export const INITIAL_STATE: BenchState = {
  open: undefined,
  logOpen: true,
  marked: undefined,
  depth: undefined,
  mapping: undefined,
  tried: undefined,
  conditions: 'dark room',
  shown: {},
  ticks: NO_TICKS,
  panel: undefined,
}

export type BenchEvent =
  | { readonly type: 'open'; readonly window: OpenWindow }
  | { readonly type: 'close' }
  | { readonly type: 'toggle-log' }
  | { readonly type: 'mark'; readonly mode: string }
  | { readonly type: 'mark-depth'; readonly depth: Depth }
  | { readonly type: 'mark-mapping'; readonly value: string }
  | { readonly type: 'try'; readonly question: string; readonly value: string | number }
  | { readonly type: 'conditions'; readonly text: string }
  | { readonly type: 'shown'; readonly control: string; readonly text: string }
  | { readonly type: 'ticks'; readonly ticks: Ticks }
  | { readonly type: 'panel'; readonly key: PanelKey; readonly at: StepKey }

export const benchReducer = (state: BenchState, event: BenchEvent): BenchState => {
  switch (event.type) {
    case 'open':
      return { ...state, open: event.window }
    case 'close':
      return { ...state, open: undefined }
    case 'toggle-log':
      return { ...state, logOpen: !state.logOpen }
    case 'mark':
      return { ...state, marked: event.mode }
    case 'mark-depth':
      return { ...state, depth: event.depth }
    case 'mark-mapping':
      return { ...state, mapping: event.value }
    case 'try':
      return { ...state, tried: { question: event.question, value: event.value } }
    case 'conditions':
      return { ...state, conditions: event.text }
    case 'shown':
      return { ...state, shown: { ...state.shown, [event.control]: event.text } }
    case 'ticks':
      return { ...state, ticks: event.ticks }
    case 'panel':
      return { ...state, panel: { key: event.key, at: event.at } }
  }
}

/** The mode that taking one would take: the marked, else the chosen, else the proposed. */
export const markedMode = ({ findings }: Pick<SessionView, 'findings'>, { marked }: BenchState): string => {
  const { survey } = findings
  const known = survey.some((m) => m.mode === marked) ? marked : undefined
  const best = survey.find((m) => m.chosen) ?? survey.find((m) => !m.against) ?? survey[0]
  return known ?? best?.mode ?? ''
}

/** The depth that going on would take: the marked, else the proposed. */
export const markedDepth = ({ next }: Pick<SessionView, 'next'>, { depth }: BenchState): Depth => {
  if (next.kind !== 'choose-depth') return 'all'
  return next.options.some((o) => o.depth === depth) ? depth! : next.proposed
}

/** The value of the tone mapping control that going on would take: the marked, else the proposed or the one that stands. */
export const markedMapping = (
  { next, findings }: Pick<SessionView, 'next' | 'findings'>,
  { mapping }: Pick<BenchState, 'mapping'>,
): string => {
  const options = findings.mappings?.options ?? []
  if (next.kind !== 'choose-mapping') return String(options.find((o) => o.chosen)?.value ?? '')
  return options.some((o) => o.value === mapping) ? mapping! : String(next.proposed)
}

/** The value that a visual check would keep: the one tried for this question, else the one that it begins with. */
export const triedValue = (
  { next }: Pick<SessionView, 'next'>,
  { tried }: BenchState,
): string | number | null => {
  if (next.kind !== 'visual-check') return null
  const { question, begin, control } = next.look
  return tried?.question === question ? tried.value : (begin ?? control?.value ?? null)
}

/** The panel that was chosen; whoever looked elsewhere is brought back when the route goes on to another step. */
export const chosenPanel = (view: Pick<SessionView, 'steps'>, { panel }: BenchState): PanelKey | undefined =>
  panel?.at === stepAtHand(view) ? panel.key : undefined

/** What a person says that the menu shows: as believed, but where something else was typed. Texts that are no number stay texts, which the server refuses by name. */
export const shownValues = (
  { next }: Pick<SessionView, 'next'>,
  { shown }: Pick<BenchState, 'shown'>,
): Record<string, string | number> =>
  next.kind === 'confirm-values'
    ? Object.fromEntries(
        next.rows.map((row) => {
          const text = shown[row.key]?.trim()
          if (!text) return [row.key, row.value]
          const number = Number(text.replace(',', '.').replace('−', '-'))
          return [row.key, row.kind === 'number' && Number.isFinite(number) ? number : text]
        }),
      )
    : {}
