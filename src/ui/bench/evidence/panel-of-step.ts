import type { StepKey } from '#core/steps'
import type { SessionView } from '#server/view'

/** A panel of the evidence. */
export type PanelKey =
  | 'grey'
  | 'survey'
  | 'levels'
  | 'tone'
  | 'mapping'
  | 'hdr'
  | 'white'
  | 'by-level'
  | 'colour'
  | 'processing'
  | 'latency'
  | 'desktop'
  | 'helpers'
  | 'response'
  | 'result'
  | 'values'

/** The panel that fits a step. */
export const PANEL_OF: Readonly<Record<StepKey, PanelKey>> = {
  prepare: 'grey',
  signal: 'grey',
  survey: 'survey',
  latency: 'latency',
  'out-of-box': 'grey',
  luminance: 'levels',
  gamut: 'colour',
  tone: 'tone',
  'black-level': 'levels',
  'white-level': 'levels',
  'tone-mapping': 'mapping',
  white: 'white',
  'level-white': 'by-level',
  colour: 'colour',
  helpers: 'helpers',
  processing: 'processing',
  verify: 'result',
  eotf: 'hdr',
  refresh: 'latency',
  clamps: 'desktop',
  uniformity: 'desktop',
  guide: 'result',
}

/** The step that the route has reached. */
export const stepAtHand = ({ steps }: Pick<SessionView, 'steps'>): StepKey =>
  steps.find((s) => s.status === 'now' || s.status === 'stale')?.key ?? 'guide'
