import { chooseSignal, linksOf } from '#bench/client'
import { type BenchPort, execute, type Person } from '#bench/executor'
import { controlByRole, showValue } from '#core/display'
import { isDynamic, isHdr, targetsFor } from '#core/judge'
import {
  ASSUMED_PRECISION,
  BLACK,
  isOnOwnLink,
  isUsable,
  type Patch,
  patchesFor,
  patternOf,
} from '#core/measure'
import { createMemo } from '#core/memo'
import {
  type Devices,
  decideAfterStop,
  decideUnattended,
  planRoute,
  priorsOfRoute,
  type Route,
  sayChanges,
  sayLeftOut,
  setAll,
  type Work,
  withAnswer,
  workOf,
} from '#core/plan'
import { hdrSignal, type SignalFormat } from '#core/signal'
import {
  type MadeAdjustment,
  type RouteFacts,
  type RouteReading,
  STEP_TITLE,
  type StepKey,
} from '#core/steps'
import type { Targets } from '#core/target'
import { type FoundBench, lookAtBench } from './found-bench'
import type { Outcome, Wish } from './outcome'
import { type HowToWork, type KeptRun, Notebook } from './store'
import { MOST_MEASUREMENTS, MOST_WORK } from './tuning'

/** Nobody is there: everything is the bench's part. */
const ALL_BENCH: Devices = { display: 'bench', pattern: 'bench', meter: 'bench' }
const isAskedInVain = async (): Promise<never> => {
  throw new Error('A person was asked where the bench does every part')
}
const NOBODY: Person = {
  show: isAskedInVain,
  read: isAskedInVain,
  set: isAskedInVain,
  reset: isAskedInVain,
}

/** Why a case ended before its time. */
class Stop extends Error {}

/** Why a case cannot begin on a bench; undefined where it can. */
const whyNotHere = ({ viewingCase, baseMode }: Wish, { pattern, sheet }: FoundBench): string | undefined => {
  const wide = pattern.transfers.includes('pq') && pattern.encodings.some((e) => e !== 'bt709')
  if (isHdr(viewingCase) && !wide)
    return 'The pattern source gives no PQ in BT.2020: an HDR case needs it. Nothing was changed.'
  if (isDynamic(viewingCase) && !pattern.dynamicMetadata)
    return 'The pattern source does not send dynamic metadata: this case needs it. Nothing was changed.'
  const mode = controlByRole(sheet, 'picture-mode')
  return baseMode !== undefined && mode?.kind === 'choice' && !mode.choices.some((c) => c.value === baseMode)
    ? `“${mode.label}” has no value ${baseMode}.`
    : undefined
}

/** A case under way on a bench: what is known of it, and what is done next. */
class Case {
  private readonly targets: Targets
  private readonly white: Patch
  private readonly adjustments: MadeAdjustment[] = []
  private readonly skipped: Partial<Record<StepKey, string>> = {}
  private readonly refused: Record<string, string> = {}
  private readonly leftOut: string[] = []
  private readonly usable: RouteReading[]
  private readonly memo = createMemo()
  private readonly planning: number[] = []
  private prepared = false
  private accepted: readonly string[] = []
  private baseMode: string | null
  private route: Route | undefined
  private stopped: string | undefined

  constructor(
    private readonly bench: BenchPort,
    private readonly found: FoundBench,
    private readonly wish: Wish,
    private readonly signal: SignalFormat,
    private readonly notebook: Notebook,
    private readonly say: (line: string) => void,
  ) {
    this.targets = wish.targets ?? targetsFor(wish.policy, wish.viewingCase)
    this.white = patchesFor(signal).white
    this.usable = [...(wish.known ?? [])]
    this.baseMode = wish.baseMode ?? null
  }

  private facts(): RouteFacts {
    const { wish, found, notebook } = this
    const { description, display, meter, pattern, sheet } = found
    return {
      memo: this.memo,
      sheet,
      viewingCase: wish.viewingCase,
      ...(display?.panelKind ? { panelKind: display.panelKind } : {}),
      baseMode: this.baseMode,
      policy: wish.policy,
      targets: this.targets,
      precision: meter.precision ?? ASSUMED_PRECISION,
      signal: this.signal,
      seen: notebook.measurements.findLast((m) => m.seen?.signal && isOnOwnLink(m))?.seen?.signal ?? null,
      flagged: notebook.measurements.findLast((m) => m.seen?.flagged)?.seen?.flagged ?? null,
      state: notebook.state,
      readings: this.usable,
      adjustments: this.adjustments,
      prepared: this.prepared,
      leftOut: this.leftOut,
      skipped: this.skipped,
      refused: this.refused,
      accepted: this.accepted,
      verdicts: [],
      latencies: [...(wish.latencies ?? []), ...notebook.latencies],
      priors: wish.priors ?? [],
      occupied: wish.occupied ?? [],
      bench: {
        layouts: pattern.layouts,
        positions: Boolean(description.meter?.positions),
        ...(pattern.variableRefresh ? { variableRefresh: pattern.variableRefresh } : {}),
        probe: description.probe !== null,
        probePositions: description.probe?.positions ?? [],
        links: linksOf(pattern),
        eye: false,
      },
    }
  }

  /** Executes a run, what stops it decided as everywhere where nobody is there. */
  private async carryOut(work: Work): Promise<void> {
    const run = this.notebook.begin(work.purpose, work.tasks)
    this.say(work.title)
    const triedAgain = new Set<number>()
    const before = this.notebook.measurements.length
    const done = async () => {
      const newest = this.notebook.measurements.findLast(
        (m) => m.fault === null && m.patch.key === this.white.key,
      )
      return execute(this.bench, this.notebook.storeOf(run), NOBODY, {
        devices: ALL_BENCH,
        sheet: this.found.sheet,
        state: this.notebook.state,
        fresh: work.purpose === 'prepare' && !this.prepared,
        serial: this.found.display.serial,
        signal: this.signal,
        refused: this.refused,
        white: newest?.xyz?.[1] ?? this.targets.luminance,
        checksFeed: work.purpose === 'feed-check',
        slotOn: (now) => now?.meter?.slots?.find((s) => s.panelKind === now.display?.panelKind)?.slot ?? null,
        correction: null,
        tasks: () => run.tasks,
      })
    }
    try {
      while ((await done()) === 'left') this.afterStop(run, triedAgain)
      if (work.purpose === 'prepare') this.prepared = true
    } finally {
      this.usable.push(...this.notebook.measurements.slice(before).filter(isUsable))
    }
    if (work.adjustment) {
      const { step, changes, predictions } = work.adjustment
      // What could not be set is not what the predictions are about.
      const set = changes.every((c) => this.notebook.state[c.control] === c.to)
      this.adjustments.push({
        runId: run.id,
        kind: 'proposed',
        step,
        changes,
        predictions: set ? predictions : [],
      })
    }
    if (this.notebook.measurements.length > MOST_MEASUREMENTS)
      throw new Stop(`More than ${MOST_MEASUREMENTS} readings, and no end.`)
  }

  /** What is done where a run stopped. Errors: throws where nothing is left to be tried. */
  private afterStop(run: KeptRun, triedAgain: Set<number>): void {
    if (!run.stopped) throw new Stop('It was ended by hand.')
    const { sentence, about } = run.stopped
    run.stopped = undefined
    const at = run.tasks.find((t) => !t.outcome)
    if (!at) throw new Stop(sentence)
    const decision = decideAfterStop({
      sheet: this.found.sheet,
      tasks: run.tasks,
      about,
      triedAgain: triedAgain.has(at.ordinal),
    })
    if (decision === 'wait') throw new Stop(sentence)
    if (decision === 'retry') triedAgain.add(at.ordinal)
    else if (decision === 'leave-out' && about?.kind === 'set') {
      this.refused[about.control] = sentence
      this.notebook.note(sentence)
      if (at.kind === 'set') this.notebook.finish(run, at, 'skipped')
    } else if (at.patch) {
      this.leftOut.push(at.patch.key)
      this.notebook.note(sayLeftOut(at.patch, sentence))
      this.notebook.finish(run, at, 'skipped')
    }
  }

  /** One decision, carried out. Out: whether the case is at its end. Errors: throws where it cannot go on. */
  private async next(route: Route): Promise<boolean> {
    const decision = decideUnattended(route)
    if (decision.kind === 'finished') return true
    const mode = controlByRole(this.found.sheet, 'picture-mode')
    if (decision.kind === 'stop') throw new Stop(decision.reason)
    if (decision.kind === 'choose-mode') {
      this.say(`Base mode: ${mode ? showValue(mode, decision.mode) : decision.mode}. ${decision.reason}`)
      this.baseMode = decision.mode
    } else if (decision.kind === 'decide') {
      this.accepted = withAnswer(this.accepted, decision.question, decision.answer)
    } else if (decision.kind === 'leave') {
      this.skipped[decision.step] = decision.reason
      this.notebook.note(`${STEP_TITLE[decision.step]}: ${decision.reason}. Skipped.`)
    } else if (decision.kind === 'put-back') {
      const { step, reason, changes } = decision.putBack
      this.skipped[step] = `restored to default: ${reason}`
      this.notebook.note(`${reason} What was adjusted for it is restored to default.`)
      await this.carryOut({
        purpose: 'adjust',
        title: sayChanges(this.found.sheet, changes),
        tasks: setAll(changes),
      })
    } else {
      if (route.next.kind === 'unexpected-reading') this.notebook.note(route.next.unexpected.sentence)
      const work = workOf(route.next, {
        at: route.at,
        sheet: this.found.sheet,
        state: this.notebook.state,
        baseMode: this.baseMode,
        prepared: this.prepared,
        devices: ALL_BENCH,
        white: this.white,
      })
      if ('undecided' in work) throw new Error(`${route.next.kind} is decided, not carried out`)
      await this.carryOut(work)
    }
    return false
  }

  /** Goes on until the case is at its end, or why it cannot. */
  async go(): Promise<Outcome> {
    try {
      for (let begun = 0; ; begun++) {
        if (begun === MOST_WORK) throw new Stop('The route did not come to an end.')
        const begin = performance.now()
        this.route = planRoute(this.facts())
        this.planning.push(performance.now() - begin)
        if (await this.next(this.route)) break
      }
    } catch (error) {
      if (!(error instanceof Stop)) throw error
      this.stopped = error.message
      this.say(error.message)
    }
    return this.outcome()
  }

  private outcome(): Outcome {
    const { wish, found, notebook, route, stopped } = this
    const taken = notebook.measurements.filter((m) => m.kind !== 'settle')
    const survey = taken.filter((m) => m.purpose === 'survey').length
    return {
      verified: stopped === undefined && route?.after !== undefined,
      ...(stopped ? { stopped } : {}),
      identity: found.display,
      meter: found.meter,
      sheet: found.sheet,
      viewingCase: wish.viewingCase,
      policy: wish.policy,
      targets: this.targets,
      signal: this.signal,
      baseMode: this.baseMode,
      state: notebook.state,
      before: route?.before,
      after: route?.after,
      worse: route?.worse ?? [],
      derived: route?.derived ?? [],
      limits: route?.limits ?? [],
      controlFaults: route?.controlFaults ?? [],
      notes: notebook.notes,
      skipped: this.skipped,
      readings: taken.length - survey,
      surveyReadings: survey,
      benchSeconds: Math.max(0, ...notebook.measurements.map((m) => m.clock)) - found.description.seconds,
      kept: notebook.measurements,
      usable: this.usable,
      adjustments: this.adjustments,
      priors: route ? priorsOfRoute(route) : [],
      latencies: [...(wish.latencies ?? []), ...notebook.latencies],
      route,
      planning: this.planning,
    }
  }
}

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
  if (found.missing !== undefined) return { stopped: found.missing }
  const whyNot = whyNotHere(wish, found)
  if (whyNot) return { stopped: whyNot }
  const sdr = chooseSignal(null, found.pattern)
  const signal = isHdr(wish.viewingCase)
    ? hdrSignal(sdr, found.pattern.encodings, isDynamic(wish.viewingCase))
    : sdr
  // What was on the link before may have been another kind of picture, with a menu and a memory of its own.
  await bench.showPattern(patternOf(BLACK, signal))
  const lastId = Math.max(0, ...(wish.known ?? []).map((r) => r.id))
  const notebook = new Notebook({ say, pause, keep, leave }, { state: found.state, lastId })
  return new Case(bench, found, wish, signal, notebook, say).go()
}
