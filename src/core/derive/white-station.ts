import type { Channel, NumberControl } from '#core/display'
import { greyErrorChromatic, greyErrorNoise } from '#core/judge'
import { grey, greyLevel } from '#core/measure'
import { channelBasis } from './channels'
import { greysOf, type MovedControls, otherDifference, type RouteFacts, type SweepReadings } from './facts'
import {
  type ClicksAway,
  clicksAway,
  type GreyModel,
  type GreyObservation,
  learnGrey,
  MOVED,
  type MovedChannel,
  modelSigma,
  predictGrey,
  type TwoPoint,
  usualResponse,
} from './grey-model'
import type { Change, Move, Prediction } from './move'
import { expectedChange, solveTwoPoint, type TwoPointRange } from './two-point'

/** Levels that are read after a move of gains, of cuts, of both, in percent. */
const READS = { gain: [100, 60, 30], cut: [10, 20, 50], both: [10, 40, 90] } as const
/** A move that would gain less than this after a verified sweep is not worth another sweep, ΔE00. */
const WORTH_ANOTHER_SWEEP = 0.35
const MOST_MOVES = 6

/** Where the white station stands. */
export type WhiteResult =
  | { readonly kind: 'impossible'; readonly reason: string }
  | ({ readonly away: readonly ClicksAway[]; readonly basis: readonly number[]; readonly noise: number } & (
      | { readonly kind: 'move'; readonly move: Move }
      | {
          readonly kind: 'done'
          /** Average chromatic ΔE00 that the model expects now, and what the best further move would make of it. */
          readonly error: number
          readonly best: number
          readonly limit?: string
        }
    ))

type Pair = 'gain' | 'cut'

const clicksOf = (moved: MovedControls, reference: SweepReadings, state: RouteFacts['state']): TwoPoint => {
  const clicks = (control: NumberControl | undefined) =>
    control
      ? Math.round((Number(state[control.key]) - Number(reference.state[control.key])) / control.range.step)
      : 0
  return {
    red: { gain: clicks(moved.gain.red), cut: clicks(moved.cut.red) },
    blue: { gain: clicks(moved.gain.blue), cut: clicks(moved.cut.blue) },
  }
}

/** Clicks between neutral (or default) and the nearer end that is not neutral itself. */
const reach = (control: NumberControl | undefined): number => {
  if (!control) return 1
  const { min, max, step } = control.range
  const neutral = control.neutral ?? control.default
  const sides = [neutral - min, max - neutral].map((s) => s / step).filter((s) => s > 0)
  return Math.max(1, Math.min(...sides))
}

/**
 * The white station: learns what clicks do, and gives the next move of gains, of cuts or of both, or that no further
 * click gains more than the noise of reading.
 * In: facts, controls, the factory sweep (complete), whether the present state has already been verified.
 */
export const whiteStation = (
  facts: RouteFacts,
  moved: MovedControls,
  reference: SweepReadings,
  verified: boolean,
): WhiteResult => {
  const { targets, precision } = facts
  const [red, green, blue, black] = ['red', 'green', 'blue', 'grey-0'].map(
    (k) => reference.byPatch.get(k)?.xyz,
  )
  const basis = red && green && blue && black && channelBasis(red, green, blue, black)
  if (!basis)
    return {
      kind: 'impossible',
      reason: 'The three primaries read alike, so grey cannot be split into channels. Check the feed.',
    }

  const own = facts.readings.filter(
    (r) => r.purpose !== 'factory' && otherDifference(moved, r.state, reference.state).length === 0,
  )
  const later: GreyObservation[] = own.flatMap((r) => {
    const level = greyLevel(r.patch)
    return level ? [{ level, xyz: r.xyz, clicks: clicksOf(moved, reference, r.state) }] : []
  })
  const now = clicksOf(moved, reference, facts.state)
  const model = learnGrey({
    basis,
    reference: greysOf(reference).filter((g) => g.level > 0),
    later,
    target: targets.white,
    precision,
    prior: usualResponse(reach(moved.gain.blue ?? moved.gain.red), reach(moved.cut.blue ?? moved.cut.red)),
    now,
  })
  if (!model)
    return { kind: 'impossible', reason: 'The target white lies outside the colours of this display.' }

  const evidence = {
    away: clicksAway(model, now),
    basis: [...reference.byPatch.values(), ...own].map((r) => r.id),
    noise: averageNoise(model, facts),
  }
  const ranges = (pairs: readonly Pair[]): TwoPointRange => {
    const range = (channel: MovedChannel, pair: Pair): readonly [number, number] => {
      const control = moved[pair][channel]
      if (!control || !pairs.includes(pair)) return [now[channel][pair], now[channel][pair]]
      const from = Number(reference.state[control.key])
      const { min, max, step } = control.range
      return [Math.ceil((min - from) / step), Math.floor((max - from) / step)]
    }
    return {
      red: { gain: range('red', 'gain'), cut: range('red', 'cut') },
      blue: { gain: range('blue', 'gain'), cut: range('blue', 'cut') },
    }
  }
  const tried = (pair: Pair) => later.some((o) => MOVED.some((c) => o.clicks[c][pair] !== 0))
  const has = (pair: Pair) => MOVED.some((c) => moved[pair][c])
  const untried = (['gain', 'cut'] as const).filter((pair) => has(pair) && !tried(pair))
  const pairs: readonly Pair[] = untried.length > 0 ? [untried[0]!] : ['gain', 'cut']

  const best = solveTwoPoint(model, ranges(['gain', 'cut']), now)
  const step = untried.length > 0 ? solveTwoPoint(model, ranges(pairs), now) : best
  const change = expectedChange(model, now, step.clicks)
  const worth = verified ? Math.max(evidence.noise, WORTH_ANOTHER_SWEEP) : evidence.noise
  const moves = new Set(
    own
      .filter((r) => r.purpose === 'move' && JSON.stringify(clicksOf(moved, reference, r.state)) !== NOTHING)
      .map((r) => r.runId),
  ).size
  const spent = moves >= MOST_MOVES + (verified ? 2 : 0)
  // A pair that gains nothing by itself may still help together with the other.
  const candidate =
    change.before - change.after >= worth
      ? { pairs, clicks: step.clicks, change }
      : change.before - best.error >= worth
        ? {
            pairs: ['gain', 'cut'] as const,
            clicks: best.clicks,
            change: expectedChange(model, now, best.clicks),
          }
        : undefined
  if (!candidate || spent)
    return {
      kind: 'done',
      ...evidence,
      error: change.before,
      best: best.error,
      limit: limitReached(ranges(['gain', 'cut']), moved, best.clicks),
    }
  const kind = candidate.pairs.length > 1 ? 'both' : candidate.pairs[0]!
  return { kind: 'move', ...evidence, move: makeMove(kind, facts, moved, reference, model, now, candidate) }
}

const NOTHING = JSON.stringify({ red: { gain: 0, cut: 0 }, blue: { gain: 0, cut: 0 } })

/** Scatter of the average white error over the levels, at the present panel light: what one sweep cannot tell apart. */
const averageNoise = (model: GreyModel, facts: RouteFacts): number => {
  const whites = facts.readings.filter((r) => r.patch.key === 'grey-100')
  const peakNow = whites.at(-1)?.xyz[1] ?? facts.targets.luminance
  const whiteThen = predictGrey(model, { red: { gain: 0, cut: 0 }, blue: { gain: 0, cut: 0 } })
  const scale = peakNow / whiteThen[whiteThen.length - 1]![1]
  const noises = whiteThen.map((xyz) =>
    greyErrorNoise(xyz[1] * scale, peakNow, model.target, facts.precision),
  )
  return Math.hypot(...noises) / noises.length
}

/** The control that stands at the end of its range where more of it was wanted. */
const limitReached = (ranges: TwoPointRange, moved: MovedControls, clicks: TwoPoint): string | undefined => {
  for (const pair of ['gain', 'cut'] as const)
    for (const channel of MOVED) {
      const control = moved[pair][channel]
      const [low, high] = ranges[channel][pair]
      const at = clicks[channel][pair]
      if (control && low !== high && (at === low || at === high))
        return `“${control.label}” is at the end of its range.`
    }
  return undefined
}

const HALF = { gain: 'the bright half', cut: 'the dark half' } as const

const purposeOf = (
  kind: 'gain' | 'cut' | 'both',
  changes: ReadonlyArray<Change & { channel: Channel }>,
): string => {
  if (kind === 'both') return 'A fine step of gains and cuts together, for all levels. Green stays as it is.'
  const parts = changes.map(
    ({ channel, from, to }) => `${Number(to) > Number(from) ? 'adds' : 'takes out'} ${channel}`,
  )
  const sentence = [...new Set(parts)].join(', ')
  return `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)} in ${HALF[kind]}. Green stays as it is.`
}

const makeMove = (
  kind: 'gain' | 'cut' | 'both',
  facts: RouteFacts,
  moved: MovedControls,
  reference: SweepReadings,
  model: GreyModel,
  now: TwoPoint,
  candidate: { clicks: TwoPoint; change: { before: number; after: number; sigma: number } },
): Move => {
  const changes = (['gain', 'cut'] as const).flatMap((pair) =>
    MOVED.flatMap((channel) => {
      const control = moved[pair][channel]
      if (!control || candidate.clicks[channel][pair] === now[channel][pair]) return []
      const to = Number(reference.state[control.key]) + candidate.clicks[channel][pair] * control.range.step
      const from = facts.state[control.key]!
      return [{ control: control.key, from, to: Number(to.toFixed(9)), channel }]
    }),
  )
  const wanted: readonly number[] = READS[kind]
  const reads = wanted.filter((p) => model.levels.includes(p / 100)).map(grey)
  const errorOf = (clicks: TwoPoint, at: number, means?: Parameters<typeof predictGrey>[2]) => {
    const levels = predictGrey(model, clicks, means)
    return greyErrorChromatic(levels[at]!, levels[levels.length - 1]![1], model.target)
  }
  const predictions = reads.map((patch): Prediction => {
    const at = model.levels.indexOf(patch.signal[0])
    return {
      patch: patch.key,
      quantity: 'white-error',
      before: errorOf(now, at),
      after: errorOf(candidate.clicks, at),
      sigma: modelSigma(model, (means) => errorOf(candidate.clicks, at, means)),
    }
  })
  return {
    station: 'white',
    changes: changes.map(({ control, from, to }) => ({ control, from, to })),
    reads,
    purpose: purposeOf(kind, changes),
    expected: { quantity: 'white-error', ...candidate.change },
    predictions,
  }
}
