import type { ControlValue, State } from '#core/display'
import { isHdr, REFERENCE_POLICY, targetsFor, type ViewingCase } from '#core/judge'
import { ASSUMED_PRECISION, BLACK, patchesFor, patternOf, standardErrors } from '#core/measure'
import { createMemo } from '#core/memo'
import { prepareChanges, type ResponsePrior } from '#core/model'
import {
  type Devices,
  decideUnattended,
  type PlannedTask,
  planRoute,
  priorsOfRoute,
  type Route,
  setAll,
  withAnswer,
  workOf,
} from '#core/plan'
import { hdrSignal, SDR_SIGNAL, signalKind } from '#core/signal'
import {
  clicksOf,
  type HandPace,
  type MadeAdjustment,
  type OccupiedSlot,
  type RouteFacts,
  type RouteReading,
  type StepKey,
} from '#core/steps'
import type { Drawn, populationBench } from '#tests/population'

/** A person with a remote, a meter that is read off and patches that a page shows; those of HDR come from a source of the person's own. */
const BY_HAND: Devices = { display: 'hand', pattern: 'page', meter: 'hand' }
const WITH_SOURCE: Devices = { ...BY_HAND, pattern: 'hand' }
/** Digits that a meter shows and a person types. */
const TYPED_DIGITS = 4
/** A case that needs more work than this goes round in circles. */
const MOST_WORK = 400

/** What was known before a case began. */
export interface Before {
  readonly priors?: readonly ResponsePrior[]
  readonly known?: readonly RouteReading[]
  readonly occupied?: readonly OccupiedSlot[]
}

/** A case that a person has gone to its end, and what it took. */
export interface HandCase {
  readonly route: Route
  readonly state: State
  readonly skipped: Readonly<Partial<Record<StepKey, string>>>
  readonly readings: number
  readonly values: number
  readonly clicks: number
  readonly priors: readonly ResponsePrior[]
  /** What a later case of the same unit knows: the survey and the check of the signal. */
  readonly known: readonly RouteReading[]
  /** Readings by what they were for. */
  readonly byPurpose: Readonly<Record<string, number>>
}

/**
 * Goes a whole case as a careful person does by hand, without database and browser: every value is set with the remote, every reading is
 * typed with four digits, whatever is proposed is done. In: display; its bench, in whatever state; case; pace that the plan reckons with;
 * what is known. Errors: where the case does not come to an end.
 */
export const caseByHand = async (
  { sheet }: Drawn,
  { port, state: shown }: ReturnType<typeof populationBench>,
  viewingCase: ViewingCase,
  hand: HandPace,
  { priors = [], known = [], occupied = [] }: Before = {},
): Promise<HandCase> => {
  const memo = createMemo()
  const hdr = isHdr(viewingCase)
  const signal = hdr ? hdrSignal(SDR_SIGNAL) : SDR_SIGNAL
  // The menu and the memory that count are those of the signal.
  await port.showPattern(patternOf(BLACK, signal))
  const readings: RouteReading[] = [...known]
  const adjustments: MadeAdjustment[] = []
  const skipped: Partial<Record<StepKey, string>> = {}
  const byPurpose: Record<string, number> = {}
  // What the display's own page says is typed, where it has one.
  const page = await port.signal()
  const seen = page.ok ? page.value : null
  let accepted: readonly string[] = []
  let baseMode: string | null = null
  let prepared = false
  let runId = 0
  const effort = { readings: 0, values: 0, clicks: 0 }

  const facts = (): RouteFacts => ({
    memo,
    sheet,
    viewingCase,
    baseMode,
    policy: REFERENCE_POLICY,
    targets: targetsFor(REFERENCE_POLICY, viewingCase),
    precision: ASSUMED_PRECISION,
    signal,
    seen,
    state: shown(),
    readings,
    adjustments,
    prepared,
    leftOut: [],
    skipped,
    refused: {},
    accepted,
    verdicts: [],
    latencies: [],
    priors,
    occupied,
    bench: { layouts: ['window'], probe: false, eye: false },
    hand,
    typed: true,
  })
  const set = async (control: string, to: ControlValue) => {
    const from = shown()[control]!
    if (from === to) return
    effort.values++
    effort.clicks += clicksOf(sheet, { control, from, to })
    const done = await port.set(control, to)
    if (!done.ok) throw new Error(done.failure.message)
  }
  const carryOut = async (task: PlannedTask, purpose: RouteReading['purpose']): Promise<void> => {
    if (task.kind === 'reset') await port.reset(hdr ? { signal: 'hdr' } : {})
    else if (task.kind === 'set') await set(task.control!, task.value!)
    else if (task.kind === 'rest')
      for (let turn = 0; turn < sheet.controls.length; turn++) {
        const [first] = prepareChanges(sheet, shown(), null, signalKind(signal))
        if (!first) break
        await set(first.control, first.to)
      }
    else if (task.patch) {
      const { dark = 0, stands = 0 } = task.patch.timing ?? {}
      if (dark) {
        await port.showPattern(patternOf(BLACK, signal))
        await port.wait(dark)
      }
      const put = await port.showPattern(patternOf(task.patch, signal))
      if (!put.ok) throw new Error(put.failure.message)
      if (stands) await port.wait(stands)
      // A person who gets no answer presses the meter's key again.
      let taken = await port.read({ slot: null })
      while (!taken.ok) taken = await port.read({ slot: null })
      const [x = 0, y = 0, z = 0] = (taken.value.xyz as number[]).map((v) =>
        Number(v.toPrecision(TYPED_DIGITS)),
      )
      effort.readings++
      byPurpose[purpose] = (byPurpose[purpose] ?? 0) + 1
      readings.push({
        ...{ id: (readings.at(-1)?.id ?? 0) + 1, runId, patch: task.patch, state: shown(), purpose },
        ...{ xyz: [x, y, z], sigma: standardErrors([x, y, z], ASSUMED_PRECISION, 1), samples: 1 },
        clock: taken.value.clock,
      } as RouteReading)
    }
  }

  for (let turn = 0; turn < MOST_WORK; turn++) {
    const route = planRoute(facts())
    const { next } = route
    const decision =
      next.kind === 'choose-depth'
        ? ({ kind: 'decide', question: 'depth', answer: next.proposed } as const)
        : decideUnattended(route)
    switch (decision.kind) {
      case 'finished':
        return {
          ...{ route, state: shown(), skipped, ...effort, byPurpose },
          priors: priorsOfRoute(route),
          known: readings.filter((r) => r.purpose === 'survey' || r.purpose === 'feed-check'),
        }
      case 'stop':
        throw new Error(decision.reason)
      case 'choose-mode':
        baseMode = decision.mode
        break
      case 'decide':
        accepted = withAnswer(accepted, decision.question, decision.answer)
        break
      case 'leave':
        skipped[decision.step] = decision.reason
        break
      case 'put-back':
        skipped[decision.putBack.step] = decision.putBack.reason
        runId++
        for (const task of setAll(decision.putBack.changes)) await carryOut(task, 'adjust')
        break
      case 'go': {
        const work = workOf(next, {
          ...{
            at: route.at,
            sheet,
            state: shown(),
            baseMode,
            prepared,
            devices: hdr ? WITH_SOURCE : BY_HAND,
          },
          white: patchesFor(signal).white,
        })
        if ('undecided' in work) throw new Error(`${next.kind} is decided, not carried out`)
        runId++
        for (const task of work.tasks) await carryOut(task, work.purpose)
        if (work.purpose === 'prepare') prepared = true
        if (work.adjustment) {
          const { step, changes, predictions } = work.adjustment
          const taken = changes.every((c) => shown()[c.control] === c.to)
          adjustments.push({ runId, kind: 'proposed', step, changes, predictions: taken ? predictions : [] })
        }
      }
    }
  }
  throw new Error('The case did not come to an end')
}
