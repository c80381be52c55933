import {
  type Change,
  type ChoiceControl,
  type ControlValue,
  controlOf,
  greyedOut,
  type State,
  showValue,
  slotOf,
} from '#core/display'
import {
  CASE_LABEL,
  type HdrModeVerdict,
  judgeHdrMode,
  judgeMode,
  type ModeVerdict,
  sayHdrMode,
  sayMode,
  simulatesHdr,
} from '#core/judge'
import { PQ_SURVEY_REFERENCE, sayWhole } from '#core/measure'
import { controlsByRole } from '#core/model'
import { ITP_STEPS, scaleOf } from '#core/scale'
import { signalKind } from '#core/signal'
import { defineStep, done, everyCase, type ModeSweep, open, type StepPlan } from '../contract'
import type { ModeProposal } from '../facts/asked'
import type { StepContext } from '../facts/context'
import { changesBefore, type RouteFacts } from '../facts/facts'
import { flashesAllowed } from '../games/latency-look'
import { PEAK_COUNTS, STOP_COUNTS, SURVEY_LAG } from '../tuning'

/** Readings of one mode in the survey, the newest of each patch, with automatic picture processing off. */
const readingsOf = (facts: RouteFacts, mode: ChoiceControl, value: ControlValue) => {
  const newest = new Map<string, RouteFacts['readings'][number]>()
  for (const r of facts.readings)
    if (
      (r.purpose === 'survey' || r.purpose === 'out-of-box') &&
      r.state[mode.key] === value &&
      changesBefore(facts, r.state, String(value)).length === 0
    )
      newest.set(r.patch.key, r)
  return [...newest.values()]
}

/** Latency of a mode at about 60 pictures a second, the shortest that was measured. */
const latencyOf = (facts: RouteFacts, mode: string): number | undefined => {
  const own = facts.latencies.filter((l) => l.mode === mode && l.rate > 49 && l.rate < 61)
  return own.length ? Math.min(...own.map((l) => l.milliseconds)) : undefined
}

/** Controls of some roles that are not greyed out in a mode. */
const availableIn = (facts: RouteFacts, state: State, roles: readonly string[]): boolean =>
  facts.sheet.controls.some(
    (c) =>
      roles.includes(c.role) &&
      !facts.refused[c.key] &&
      !greyedOut(facts.sheet, c, state, signalKind(facts.signal)),
  )

/** Cases that already keep values where this one would, if it used a mode. */
const keptBy = (facts: RouteFacts, state: State): string[] => {
  const cases = new Set<string>()
  for (const c of facts.sheet.controls) {
    if (!c.memory.includes('mode')) continue
    const slot = slotOf(facts.sheet, c, state, signalKind(facts.signal))
    for (const o of facts.occupied) if (o.slot === slot) cases.add(CASE_LABEL[o.viewingCase])
  }
  return [...cases]
}

/** A mode that was read, before it is ranked. */
interface JudgedMode {
  readonly value: string
  readonly label: string
  readonly verdict: ModeVerdict
  readonly hdr?: HdrModeVerdict
  readonly latency: number | undefined
  /** Whether a mode offers a control of some roles. */
  readonly has: (...roles: readonly string[]) => boolean
  /** The same under another white preset than the one that it comes with. */
  readonly hasElsewhere: (...roles: readonly string[]) => boolean
}

/** What is left of a mode's errors once what can be adjusted is adjusted, about ΔE00; with reasons, and what speaks against it. */
interface Ranked {
  readonly cost: number
  readonly reasons: readonly string[]
  readonly against?: string
}

const WHITE_CONTROLS = ['gain', 'cut', 'level-white'] as const

/** Shares of the errors of white and of colours that stay where a mode has controls for them. */
const roomsOf = ({ has, hasElsewhere }: JudgedMode, facts: RouteFacts) => ({
  white: has(...WHITE_CONTROLS)
    ? 0.12
    : hasElsewhere(...WHITE_CONTROLS)
      ? 0.3
      : has('white-preset')
        ? 0.5
        : 1,
  managed: has('colour-amount') || facts.sheet.controls.some((c) => c.colour && has(c.role)),
})
const colourRoomOf = ({ has }: JudgedMode, managed: boolean): number =>
  managed ? 0.4 : has('gamut') ? 0.6 : has('saturation', 'hue') ? 0.8 : 1
const sayWhiteRoom = (room: number): string =>
  room < 0.2
    ? ', with room to adjust it'
    : room < 0.5
      ? ', to adjust under another white preset only'
      : room < 1
        ? ', only presets to adjust it'
        : ', nothing to adjust it with'

/** What a mode's delay costs it: nothing but in games. In: its delay, and those of all modes, ms. */
const rankDelay = (
  { viewingCase }: RouteFacts,
  latency: number | undefined,
  latencies: readonly number[],
): Ranked => {
  if (!viewingCase.endsWith('-game') || latencies.length === 0) return { cost: 0, reasons: [] }
  if (latency === undefined) return { cost: 5, reasons: [] }
  const fastest = Math.min(...latencies)
  return {
    cost: (latency - fastest) / 8,
    reasons: [`Latency ${latency.toFixed(0)} ms.`],
    ...(latency > Math.max(SURVEY_LAG, fastest + 15)
      ? {
          against: `Too slow for games: ${latency.toFixed(0)} ms where another mode has ${fastest.toFixed(0)}.`,
        }
      : {}),
  }
}

const rankHdr = (
  mode: JudgedMode,
  hdr: HdrModeVerdict,
  facts: RouteFacts,
  brightest: number,
  delay: Ranked,
): Ranked => {
  const { has } = mode
  const { white: whiteRoom, managed } = roomsOf(mode, facts)
  const colourRoom = colourRoomOf(mode, managed)
  const toneRoom = has('tone-mapping') ? 0.6 : 1
  const peak = hdr.peak ?? brightest
  return {
    cost:
      (whiteRoom * hdr.white) / ITP_STEPS +
      (colourRoom * (hdr.colour ?? 0)) / ITP_STEPS +
      toneRoom * STOP_COUNTS * (Math.abs(hdr.stops) + 0.5 * Math.abs(hdr.shadows - hdr.stops)) +
      PEAK_COUNTS * Math.log2(brightest / Math.max(1, peak)) +
      delay.cost,
    reasons: [
      `Peak ${sayWhole(peak)} cd/m², ${Math.abs(hdr.stops) < 0.05 ? 'greys as bright as PQ asks' : `greys ${Math.abs(hdr.stops).toFixed(1)} stops too ${hdr.stops > 0 ? 'bright' : 'dark'} on average`}.`,
      `White ΔE ITP ${hdr.white.toFixed(1)}${sayWhiteRoom(whiteRoom)}.`,
      ...(hdr.colour === undefined
        ? []
        : [
            `Colours ΔE ITP ${hdr.colour.toFixed(1)} on average${managed ? ', with colour management' : ''}.`,
          ]),
      ...delay.reasons,
    ],
    ...(delay.against ? { against: delay.against } : {}),
    ...(simulatesHdr(hdr)
      ? {
          against: `Makes a picture of its own instead of following PQ: ${Math.abs(hdr.stops).toFixed(1)} stops too ${hdr.stops > 0 ? 'bright' : 'dark'}, and oversaturated.`,
        }
      : {}),
  }
}

const rankSdr = (mode: JudgedMode, facts: RouteFacts, delay: Ranked): Ranked => {
  const { has, verdict } = mode
  const { grey, colours, bend } = verdict
  const reasons: string[] = []
  const white = grey.whiteError.average
  const { white: whiteRoom, managed } = roomsOf(mode, facts)
  const off =
    grey.gamma !== undefined && grey.wantedGamma !== undefined ? Math.abs(grey.gamma - grey.wantedGamma) : 0
  const toneRoom = has('level-tone', 'level-white') ? 0.15 : has('tone-curve') ? 0.35 : 1
  const colour = colours.length ? colours.reduce((s, c) => s + c.deltaE, 0) / colours.length : 0
  let cost =
    whiteRoom * white +
    toneRoom * 6 * off +
    colourRoomOf(mode, managed) * colour +
    12 * Math.max(0, bend - 0.04)
  if (verdict.crushed) cost += has('black-level') ? 1 : 2.5
  if (verdict.clipped) cost += has('white-level') ? 0.8 : 2
  reasons.push(`Greyscale ΔE00 ${white.toFixed(1)}${sayWhiteRoom(whiteRoom)}.`)
  reasons.push(`Colours ΔE00 ${colour.toFixed(1)} on average${managed ? ', with colour management' : ''}.`)
  if (off > 0.05)
    reasons.push(
      `Gamma ${grey.gamma?.toFixed(2)} instead of ${grey.wantedGamma?.toFixed(2)}${toneRoom < 1 ? ', with a control for it' : ''}.`,
    )
  let { against }: Pick<Ranked, 'against'> = delay
  cost += delay.cost
  reasons.push(...delay.reasons)
  if (bend > 0.12 && (verdict.saturation ?? 1) > 1.08)
    against ??= 'Distorts gamma and oversaturates colours, as showroom and simulated HDR modes do.'
  return { cost, reasons, ...(against ? { against } : {}) }
}

/**
 * Ranks the picture modes for a viewing case: what is left of each one's errors when what can be adjusted is adjusted,
 * with latency for games and with what other cases already keep there.
 */
const rankModes = (facts: RouteFacts, mode: ChoiceControl): ModeProposal[] => {
  const isHdrCase = scaleOf(facts.signal).absolute
  const chooser = facts.sheet.controls.find((c) => c.role === 'white-preset')
  const presets =
    chooser?.kind === 'choice' ? chooser.choices.map((c): State => ({ [chooser.key]: c.value })) : []
  const judged = mode.choices.flatMap(({ value, label }): Array<JudgedMode & { readonly state: State }> => {
    const readings = readingsOf(facts, mode, value)
    const verdict = judgeMode(readings, facts.targets, facts.precision)
    const state = readings.at(-1)?.state
    if (!verdict || !state) return []
    const hdr = isHdrCase ? judgeHdrMode(readings, facts.targets, PQ_SURVEY_REFERENCE) : undefined
    return [
      {
        value,
        label,
        verdict,
        ...(hdr ? { hdr } : {}),
        state,
        latency: latencyOf(facts, value),
        has: (...roles) => availableIn(facts, state, roles),
        hasElsewhere: (...roles) =>
          presets.some((preset) => availableIn(facts, { ...state, ...preset }, roles)),
      },
    ]
  })
  const latencies = judged.flatMap((j) => j.latency ?? [])
  const brightest = Math.max(1, ...judged.flatMap((j) => j.hdr?.peak ?? []))
  return judged
    .map((one): ModeProposal => {
      const { value, label, verdict, hdr, latency, state } = one
      const delay = rankDelay(facts, latency, latencies)
      const ranked = hdr ? rankHdr(one, hdr, facts, brightest, delay) : rankSdr(one, facts, delay)
      let { cost, against } = ranked
      const reasons = [...ranked.reasons]
      // The one fast mode is worth more to games than to films.
      if (
        !facts.viewingCase.endsWith('-game') &&
        latency !== undefined &&
        latency === Math.min(...latencies) &&
        latencies.filter((l) => l > latency + SURVEY_LAG).length >= latencies.length - 1 &&
        latencies.length > 1
      ) {
        cost += 1.2
        reasons.push(`Left to games, as the only fast mode (${latency.toFixed(0)} ms).`)
      }
      const kept = keptBy(facts, state)
      if (kept.length) {
        cost += 4
        against ??= `Already holds the values of ${kept.join(' and ')}: a second case here would overwrite them.`
      }
      return {
        mode: value,
        label,
        verdict,
        ...(hdr ? { hdr } : {}),
        sentence: hdr ? sayHdrMode(hdr, facts.targets) : sayMode(verdict, facts.targets)[0]!,
        latency,
        cost,
        reasons,
        against,
      }
    })
    .sort((a, b) => a.cost - b.cost)
}

/** Whether what is switched off for a mode's sweep has to go back. With a remote each value is a walk: only where another case keeps values. */
const wouldTakeAway = (
  { sheet, hand, occupied }: RouteFacts,
  mode: string,
  changes: readonly Change[],
): boolean => {
  if (hand === undefined) return true
  const beyondMode = changes.some(({ control }) => {
    const { memory } = controlOf(sheet, control)
    return memory.length > 0 && !memory.includes('mode')
  })
  return occupied.some((o) => beyondMode || o.slot.split('@').includes(`mode=${mode}`))
}

/** The survey: every mode with a short sweep, then the reviewer chooses the base mode from a ranked proposal. */
const planSurvey = ({ facts, byRole, patches: all }: StepContext): StepPlan => {
  const { mode } = byRole
  if (mode?.kind !== 'choice') return done('one mode only')
  const label = (value: string) => `“${showValue(mode, value)}”`
  if (facts.baseMode !== null) {
    const of = mode.choices.filter((c) => readingsOf(facts, mode, c.value).length > 3).length
    return done(of > 1 ? `${label(facts.baseMode)} of ${of} modes` : label(facts.baseMode))
  }
  const patches = all.survey.filter((p) => !facts.leftOut.includes(p.key))
  const modes = mode.choices.flatMap(({ value }): ModeSweep[] => {
    const own = readingsOf(facts, mode, value)
    const missing = patches.filter((p) => !own.some((r) => r.patch.key === p.key))
    const changes = changesBefore(facts, facts.state, value)
    return missing.length
      ? [{ mode: value, andBack: wouldTakeAway(facts, value, changes), changes, patches: missing }]
      : []
  })
  const timed = mode.choices.filter((c) => facts.latencies.some((l) => l.mode === c.value)).length
  const latency = flashesAllowed(facts) && timed < mode.choices.length
  const forGames = facts.viewingCase.endsWith('-game')
  // Latency counts for games: the person says first whether the screen may flash.
  const asks =
    forGames && facts.bench.probe && facts.bench.eye && !facts.accepted.some((a) => a.startsWith('flashes='))
  if (modes.length && asks) return open({ kind: 'choose-flashes' })
  if (modes.length)
    return open(
      { kind: 'survey', modes, latency },
      `${mode.choices.length - modes.length} of ${mode.choices.length} modes`,
    )
  return open({ kind: 'choose-mode', proposals: rankModes(facts, mode) }, 'choose the base mode')
}

export const survey = defineStep({
  key: 'survey',
  title: 'Mode survey',
  restsOn: ['range', 'power-saving', 'ambient-light'],
  cases: everyCase,
  finds: [],
  measures: false,
  plan: planSurvey,
})

/** Ranked proposals from what was surveyed, whether or not a mode is chosen already. */
export const modeProposals = (facts: RouteFacts): ModeProposal[] => {
  const { mode } = controlsByRole(facts.sheet)
  return mode?.kind === 'choice' ? rankModes(facts, mode) : []
}
