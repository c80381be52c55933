import { type ControlSheet, controlByRole, type State, showValue } from '#core/display'
import { type Policy, roomOf, targetsOf, type ViewingCase } from '#core/judge'
import { createMemo } from '#core/memo'
import type { ControlFault, ResponsePrior } from '#core/model'
import { decideUnattended, planRoute, priorsOfRoute, type Route } from '#core/plan'
import type { BenchDescription, MeterDescription } from '#core/protocol'
import {
  type CaseVerdict,
  type Derived,
  type Limit,
  type MadeAdjustment,
  type MeasuredLatency,
  type Next,
  type OccupiedSlot,
  type RouteFacts,
  type RouteReading,
  STEP_TITLE,
  type StepKey,
  type WorseFigure,
} from '#core/steps'
import type { Targets } from '#core/target'
import { type BenchPort, Hands, type HowToWork, type KeptReading, lookAtBench, Stop } from './hands'

export interface Wish {
  readonly viewingCase: ViewingCase
  readonly policy: Policy
  /** Picture mode to calibrate; the survey proposes one where it is left out. */
  readonly baseMode?: string
  readonly targets?: Targets
  /** What earlier cases and units taught, and what they read of this unit's modes and feed. */
  readonly priors?: readonly ResponsePrior[]
  readonly known?: readonly RouteReading[]
  readonly occupied?: readonly OccupiedSlot[]
  readonly latencies?: readonly MeasuredLatency[]
  /** Wait until the display has settled; left out: yes. */
  readonly settle?: boolean
}

export interface Outcome {
  /** The whole route was gone and its end state read. */
  readonly verified: boolean
  /** Why it ended before, where it did. */
  readonly stopped?: string
  readonly identity: NonNullable<BenchDescription['display']>
  readonly meter: MeterDescription
  readonly sheet: ControlSheet
  readonly viewingCase: ViewingCase
  readonly policy: Policy
  readonly targets: Targets
  readonly baseMode: string | null
  readonly state: State
  readonly before: CaseVerdict | undefined
  readonly after: CaseVerdict | undefined
  readonly worse: readonly WorseFigure[]
  readonly derived: readonly Derived[]
  readonly limits: readonly Limit[]
  readonly controlFaults: readonly ControlFault[]
  readonly notes: readonly string[]
  /** Steps that were skipped, with the reason. */
  readonly skipped: Readonly<Partial<Record<StepKey, string>>>
  /** Readings of the case, those of the survey of modes aside; and of the survey. */
  readonly readings: number
  readonly surveyReadings: number
  readonly benchSeconds: number
  readonly kept: readonly KeptReading[]
  readonly usable: readonly RouteReading[]
  readonly adjustments: readonly MadeAdjustment[]
  readonly priors: readonly ResponsePrior[]
  readonly latencies: readonly MeasuredLatency[]
  readonly route: Route | undefined
  /** Milliseconds that planning took, one for each time. */
  readonly planning: readonly number[]
}

const MOST_STEPS = 250

/**
 * Goes the whole route of a viewing case on a bench, unattended: survey, levels, tone, white, colour, dimming, verification.
 * What a person would be asked is decided as proposed (`decideUnattended`), and what only eyes can tell stays at rest and
 * is named.
 *
 * In: bench, what is wished for, how to go about it.
 * Out: outcome, or why nothing could begin; the display is left in the final state. A bench that does not do its part ends
 * it with a reason, never with an exception.
 */
export const drive = async (
  bench: BenchPort,
  wish: Wish,
  how: Partial<HowToWork> = {},
): Promise<Outcome | { readonly stopped: string }> => {
  const {
    say = () => undefined,
    pause = (ms) => new Promise((done) => setTimeout(done, ms)),
    keep = () => undefined,
    leave,
  } = how
  const found = await lookAtBench(bench)
  if ('missing' in found) return { stopped: found.missing }
  const { devices } = found
  const { sheet } = devices
  const room = roomOf(wish.viewingCase)
  if (!room) return { stopped: `The case ${wish.viewingCase} cannot be derived yet.` }
  const mode = controlByRole(sheet, 'picture-mode')
  if (
    wish.baseMode !== undefined &&
    mode?.kind === 'choice' &&
    !mode.choices.some((c) => c.value === wish.baseMode)
  )
    return { stopped: `“${mode.label}” has no value ${wish.baseMode}.` }
  const targets = wish.targets ?? targetsOf(wish.policy, room)
  const hands = new Hands(
    devices,
    {
      state: found.state,
      white: targets.luminance,
      readings: wish.known ?? [],
      latencies: wish.latencies ?? [],
    },
    { settle: wish.settle !== false, say, pause, keep, leave },
  )
  const began = hands.clock
  const adjustments: MadeAdjustment[] = []
  const skipped: Partial<Record<StepKey, string>> = {}
  const memo = createMemo()
  const planning: number[] = []
  let prepared = false
  let baseMode = wish.baseMode ?? null

  const { priors = [], occupied = [] } = wish
  const facts = (): RouteFacts => ({
    memo,
    sheet,
    viewingCase: wish.viewingCase,
    baseMode,
    policy: wish.policy,
    targets,
    precision: hands.precision,
    signal: hands.signal,
    seen: hands.seen,
    state: hands.state,
    readings: hands.readings,
    adjustments,
    prepared,
    leftOut: hands.leftOut,
    skipped,
    refused: hands.refused,
    accepted: [],
    verdicts: [],
    latencies: hands.latencies,
    priors,
    occupied,
    bench: { layouts: devices.pattern.layouts, probe: devices.description.probe !== null, eye: false },
  })

  const carryOut = async (next: Next): Promise<void> => {
    switch (next.kind) {
      case 'prepare':
        if (next.reset) await hands.reset()
        await hands.rest(baseMode)
        if (!prepared) await hands.settle()
        prepared = true
        return
      case 'sweep':
        await hands.apply(next.changes)
        // What another mode brought with it and still moves by itself is switched off.
        if (next.changes.some((c) => c.control === mode?.key)) await hands.rest(null)
        return hands.sweep(next.patches, next.purpose)
      case 'survey':
        for (const one of next.modes) {
          say(`Survey: ${mode ? showValue(mode, one.mode) : one.mode}, ${one.patches.length} patches`)
          await hands.apply(one.changes)
          // What the mode brought with it and still moves by itself is switched off.
          await hands.rest(one.mode)
          await hands.sweep(one.patches, 'survey')
          if (next.latency) await hands.latency(one.mode)
        }
        return
      case 'adjust': {
        const { adjustment } = next
        const run = ++hands.runs
        say(`${STEP_TITLE[adjustment.step]}: ${adjustment.purpose}`)
        await hands.apply(adjustment.changes)
        // What could not be set is not what the predictions are about.
        const set = adjustment.changes.every((c) => hands.state[c.control] === c.to)
        adjustments.push({
          runId: run,
          kind: 'proposed',
          step: adjustment.step,
          changes: adjustment.changes,
          predictions: set ? adjustment.predictions : [],
        })
        for (const patch of adjustment.reads) await hands.read(patch, 'adjust', run)
        return
      }
      case 'unexpected-reading':
        hands.note(next.unexpected.sentence)
        await hands.read(next.unexpected.patch, 'check', ++hands.runs)
        return
      default:
        throw new Error(`${next.kind} is decided, not carried out`)
    }
  }

  let stopped: string | undefined
  let route: Route | undefined
  try {
    for (let step = 0; ; step++) {
      if (step === MOST_STEPS) throw new Stop('The route did not come to an end.')
      const begin = performance.now()
      route = planRoute(facts())
      planning.push(performance.now() - begin)
      const decision = decideUnattended(route)
      if (decision.kind === 'finished') break
      if (decision.kind === 'stop') throw new Stop(decision.reason)
      if (decision.kind === 'choose-mode') {
        say(`Base mode: ${mode ? showValue(mode, decision.mode) : decision.mode}. ${decision.reason}`)
        baseMode = decision.mode
      } else if (decision.kind === 'leave') {
        skipped[decision.step] = decision.reason
        hands.note(`${STEP_TITLE[decision.step]}: ${decision.reason}. Skipped.`)
      } else if (decision.kind === 'put-back') {
        const { step, reason, changes } = decision.putBack
        skipped[step] = `restored to default: ${reason}`
        hands.note(`${reason} What was adjusted for it is restored to default.`)
        await hands.apply(changes)
      } else await carryOut(route.next)
    }
  } catch (error) {
    if (!(error instanceof Stop)) throw error
    stopped = error.message
    say(stopped)
  }
  return {
    verified: stopped === undefined && route?.after !== undefined,
    ...(stopped ? { stopped } : {}),
    identity: devices.display,
    meter: devices.meter,
    sheet,
    viewingCase: wish.viewingCase,
    policy: wish.policy,
    targets,
    baseMode,
    state: hands.state,
    before: route?.before,
    after: route?.after,
    worse: route?.worse ?? [],
    derived: route?.derived ?? [],
    limits: route?.limits ?? [],
    controlFaults: route?.controlFaults ?? [],
    notes: hands.notes,
    skipped,
    readings: hands.count.own,
    surveyReadings: hands.count.survey,
    benchSeconds: hands.clock - began,
    kept: hands.kept,
    usable: hands.readings,
    adjustments,
    priors: route ? priorsOfRoute(route) : [],
    latencies: hands.latencies,
    route,
    planning,
  }
}
