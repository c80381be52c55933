import {
  type Change,
  type ControlSheet,
  controlByRole,
  controlOf,
  distinctLabel,
  type State,
  showValue,
} from '#core/display'
import { CASE_LABEL } from '#core/judge'
import { type Patch, type Purpose, type SweepAbout, sweepAboutOf } from '#core/measure'
import { type Adjustment, type Next, STEP_TITLE, type StepKey } from '#core/steps'
import type { AtStep } from './at-step'
import {
  type Devices,
  latencyTask,
  type PlannedTask,
  readTask,
  resetTask,
  restTask,
  setAll,
  setTask,
  settleTask,
  sweepTasks,
} from './task'
import { MOST_NAMED } from './tuning'

/** What a run does: what it is for, its name, and one task after the other. */
export interface Work {
  readonly purpose: Purpose
  readonly title: string
  readonly tasks: readonly PlannedTask[]
  /** The adjustment that it makes, with the step that asks for it. */
  readonly adjustment?: AtStep<Adjustment>
}

/** Where a case stands when work on it begins. */
export interface WorkPlace {
  /** The step that is at hand. */
  readonly at: StepKey
  readonly sheet: ControlSheet
  readonly state: State
  readonly baseMode: string | null
  readonly prepared: boolean
  readonly devices: Devices
  /** White of the signal that is measured with. */
  readonly white: Patch
}

const patches = (n: number) => `${n} ${n === 1 ? 'patch' : 'patches'}`

const SWEEP_TITLE = {
  'feed-check': 'Signal check',
  'out-of-box': 'Out of the box',
  verify: 'Final verification',
} as const

const ABOUT_TITLE: Readonly<Partial<Record<SweepAbout, string>>> = {
  refresh: 'Variable refresh',
  uniformity: 'Uniformity',
}
const sweepTitle = (purpose: keyof typeof SWEEP_TITLE, read: readonly Patch[]): string => {
  const about = sweepAboutOf(read)
  return (about && ABOUT_TITLE[about]) ?? SWEEP_TITLE[purpose]
}

/** What only a person can do next, said where work is asked for before. */
const UNDECIDED = {
  'confirm-values': 'Say first what the menu shows.',
  'choose-mode': 'Choose the picture mode to calibrate.',
  'choose-flashes': 'Say first whether the screen may flash.',
  'choose-depth': 'Choose first how many levels are corrected.',
  'choose-mapping': 'Choose first how highlights are shown.',
  'choose-green': 'Decide first whether green is adjusted.',
  'visual-check': 'Look at the pattern and answer first.',
  worse: 'Some results got worse: restore the setting or accept it.',
  'feed-fault': 'Something is wrong with the signal. Fix it and check again, or skip the step with a reason.',
  compose: 'All steps are done. Compose the guide.',
} as const

/** The work that is next on a route, for every way of working; or why a person has to decide first. */
export const workOf = (next: Next, place: WorkPlace): Work | { readonly undecided: string } => {
  switch (next.kind) {
    case 'prepare':
      return {
        purpose: 'prepare',
        title: next.reset
          ? 'Reset the mode, turn off automatic processing'
          : next.switchesOff
            ? 'Turn off automatic processing'
            : 'Prepare the display',
        tasks: prepareTasks(place, next),
      }
    case 'restore':
      return {
        purpose: 'restore',
        title: next.moved.viewingCase
          ? `Set again what ${CASE_LABEL[next.moved.viewingCase]} moved`
          : 'Set again what the display holds otherwise',
        tasks: setAll(next.moved.changes),
      }
    case 'sweep':
      return {
        purpose: next.purpose,
        title: `${sweepTitle(next.purpose, next.patches)}, ${patches(next.patches.length)}`,
        tasks: [
          ...(next.purpose === 'feed-check' && isUnchosen(place) ? [restTask(true)] : []),
          ...settingTasks(place, next.changes),
          ...(next.purpose === 'feed-check'
            ? next.patches.map(readTask)
            : sweepTasks(next.patches, place.devices)),
        ],
      }
    case 'survey':
      return surveyWork(next, place)
    case 'adjust': {
      const { adjustment } = next
      return {
        purpose: 'adjust',
        title: adjustment.changes.length
          ? sayChanges(place.sheet, adjustment.changes)
          : `${STEP_TITLE[place.at]}, ${patches(adjustment.reads.length)}`,
        tasks: [...setAll(adjustment.changes), ...adjustment.reads.map(readTask)],
        adjustment: { ...adjustment, step: place.at },
      }
    }
    case 'tour': {
      const count = next.stops.reduce((sum, s) => sum + s.reads.length + s.probes.length, 0)
      return {
        purpose: 'tour',
        title: `${next.title}, ${count} ${count === 1 ? 'look' : 'looks'}`,
        tasks: [
          ...next.stops.flatMap((stop) => [
            ...setAll(stop.changes),
            ...stop.reads.map(readTask),
            ...stop.probes.map((probe) => latencyTask(place.baseMode ?? '', probe)),
          ]),
          ...setAll(next.back),
        ],
      }
    }
    case 'unexpected-reading':
      return {
        purpose: 'check',
        title: `${next.unexpected.patch.label} once more`,
        tasks: [readTask(next.unexpected.patch)],
      }
    default:
      return { undecided: UNDECIDED[next.kind] }
  }
}

const surveyWork = (next: Extract<Next, { kind: 'survey' }>, place: WorkPlace): Work => {
  const mode = controlByRole(place.sheet, 'picture-mode')
  const here = mode && place.state[mode.key]
  const count = next.modes.reduce((sum, m) => sum + m.patches.length, 0)
  return {
    purpose: 'survey',
    title: `Survey of ${next.modes.length} ${next.modes.length === 1 ? 'mode' : 'modes'}, ${patches(count)}`,
    tasks: next.modes.flatMap((one, i) => [
      ...(mode && (i > 0 || here !== one.mode) ? [setTask(mode.key, one.mode)] : []),
      restTask(one.andBack),
      ...sweepTasks(one.patches, place.devices),
      ...(next.latency ? [latencyTask(one.mode)] : []),
    ]),
  }
}

/** Settings before a sweep; what another mode brings with it and that is automatic is switched off after it. */
const settingTasks = ({ sheet }: WorkPlace, changes: readonly Change[]): PlannedTask[] => {
  const mode = controlByRole(sheet, 'picture-mode')
  const toMode = changes.filter((c) => c.control === mode?.key)
  return toMode.length ? [...setAll(toMode), restTask()] : setAll(changes)
}

/** Whether the display stands in a mode that nobody has chosen yet, in which other cases may keep values: what is switched off in it goes back. */
const isUnchosen = ({ sheet, baseMode }: WorkPlace): boolean =>
  baseMode === null && controlByRole(sheet, 'picture-mode') !== undefined

const prepareTasks = (
  place: WorkPlace,
  { reset, switchesOff, changes }: Extract<Next, { kind: 'prepare' }>,
): PlannedTask[] => {
  const { sheet, state, baseMode, prepared, devices } = place
  if (prepared) return settingTasks(place, changes)
  const mode = controlByRole(sheet, 'picture-mode')
  // After a reset the display may stand in any mode; without one only another mode has to be set.
  const toMode = mode && baseMode !== null && (reset || state[mode.key] !== baseMode)
  return [
    ...(reset ? [resetTask()] : []),
    ...(toMode ? [setTask(mode.key, baseMode)] : []),
    // With a remote each value is a walk; it is reset only where no other case keeps values.
    ...(switchesOff ? [restTask(isUnchosen(place) && devices.display === 'bench')] : []),
    // Drift is watched, not only the clock; a person with a meter in hand watches it for himself.
    ...(devices.meter === 'hand' ? [] : [settleTask(place.white)]),
  ]
}

/** Changes in a few words: "Gain, red 0 → −4, Gain, blue 0 → 2". */
export const sayChanges = (sheet: ControlSheet, changes: readonly Change[]): string => {
  const named = changes.slice(0, MOST_NAMED).map((c) => {
    const control = controlOf(sheet, c.control)
    return `${distinctLabel(sheet, control)} ${showValue(control, c.from)} → ${showValue(control, c.to)}`
  })
  const more = changes.length - named.length
  return `${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}`
}
