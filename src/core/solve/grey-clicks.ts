import { CholeskyDecomposition, Matrix } from 'ml-matrix'
import type { XYZ } from '#core/colorimetry'
import { ASPECTS, type Aspect, drivesAt, type GreyModel, lightOfDrives } from '#core/model'
import { errorAt, type GreyAim, whiteOf } from './grey-error'
import {
  COSTLY,
  FEW,
  GREY_CLICKS_NEAR,
  GREY_CLICKS_PER_CLICK,
  GREY_CLICKS_PULL,
  GREY_CLICKS_STIFF,
} from './tuning'

/** Whole clicks that a feature may still take, counted as the model counts them: lowest and highest, both in. */
export interface ClickRange {
  readonly feature: number
  readonly low: number
  readonly high: number
  /** What a click away from the start has to gain at least, ΔE00; next to nothing where it is left out. */
  readonly perClick?: number
  /** The same of a control that is to stay where it is unless it earns it: it is held there from the first. */
  readonly cost?: number
}

const costOf = (range: ClickRange): number => range.cost ?? range.perClick ?? GREY_CLICKS_PER_CLICK

/**
 * The whole clicks, inside their ranges, with the least error over all levels.
 *
 * From a regularised least-squares solution in the drives, and again from where the display stands, whole clicks are walked:
 * one control at a time, then two that move the same level against each other, until nothing finds better.
 * In: model, what counts, ranges of the controls that may move, amounts to start from; pairs of places in `ranges` that are
 * tried together; chains of places in `ranges` whose clicks should not jump from one to the next; groups of places in `ranges` that
 * are moved the same way at once: gains that all come down where one channel runs out, the channels of a level whose light is off. Out: amounts, and the error that is expected there.
 */
export const solveClicks = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  start: Float64Array,
  pairs: ReadonlyArray<readonly [number, number]> = [],
  chains: ReadonlyArray<readonly number[]> = [],
  together: ReadonlyArray<readonly number[]> = [],
): Solution => {
  const question = JSON.stringify([
    { ...aim, curve: aim.curve.key },
    ranges,
    [...start],
    pairs,
    chains,
    together,
  ])
  const { amounts, error } = model.memo.recall('grey-clicks', model, question, () =>
    solve(model, aim, ranges, start, chains, { pairs, together }),
  )
  return { amounts: Float64Array.from(amounts), error }
}

interface Solution {
  readonly amounts: Float64Array
  readonly error: number
}

/** What a walk goes over: which levels each range moves, and by how much. */
interface Terrain {
  readonly model: GreyModel
  readonly aim: GreyAim
  readonly ranges: readonly ClickRange[]
  /** Amounts that clicks are counted from in what they cost. */
  readonly start: Float64Array
  /** Of each range: the levels that it moves at all, as places in the aim; whether white is one of them. */
  readonly touched: ReadonlyArray<{ readonly white: boolean; readonly levels: readonly number[] }>
  /** Of each range: the levels that it moves, with what a click adds there. */
  readonly responses: ReadonlyArray<
    ReadonlyArray<readonly [at: number, red: number, blue: number, tone: number]>
  >
  /** Sum of the weights of the levels. */
  readonly weights: number
}

const terrainOf = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  start: Float64Array,
): Terrain => {
  const whiteAt = model.levels.length - 1
  const all = aim.levels.map((_, i) => i)
  return {
    model,
    aim,
    ranges,
    start,
    touched: ranges.map(({ feature }) => {
      const acts = (at: number) => ASPECTS.some((a) => Math.abs(model.effect[a][feature]![at]!) > 1e-9)
      const white = acts(whiteAt)
      const levels = white && aim.toneWeight > 0 ? all : all.filter((i) => acts(aim.levels[i]!.at))
      return { white, levels }
    }),
    responses: ranges.map(({ feature }) =>
      model.levels.flatMap((_, at) => {
        const [red, blue, tone] = (['red', 'blue', 'tone'] as const).map(
          (a) => model.effect[a][feature]![at]!,
        )
        return red || blue || tone ? [[at, red!, blue!, tone!] as const] : []
      }),
    ),
    weights: aim.levels.reduce((sum, l) => sum + l.weight, 0),
  }
}

/** Whole clicks that are walked: tried, and kept where the whole becomes less. */
class Walk {
  readonly amounts: Float64Array
  private readonly drives: Array<Record<Aspect, number>>
  private white: XYZ
  private readonly errors: Float64Array
  private total: number
  /** What the clicks cost that lie between here and where the display stands. */
  private away: number
  private readonly next: Float64Array

  constructor(
    private readonly on: Terrain,
    from: Float64Array,
  ) {
    const { model, aim, ranges, start } = on
    this.amounts = Float64Array.from(from)
    this.drives = model.levels.map((_, at) => ({ ...drivesAt(model, at, this.amounts) }))
    this.white = whiteOf(model, aim, this.drives)
    this.errors = Float64Array.from(aim.levels, (_, i) => this.errorOf(i, this.white))
    this.total = this.errors.reduce((a, b) => a + b, 0)
    this.away = ranges.reduce(
      (sum, r) => sum + costOf(r) * Math.abs(this.amounts[r.feature]! - start[r.feature]!),
      0,
    )
    this.next = new Float64Array(aim.levels.length)
  }

  /** Error over all levels, and with what the clicks cost. */
  get error(): number {
    return this.total / this.on.weights
  }
  get price(): number {
    return this.error + this.away
  }

  private errorOf(i: number, white: XYZ): number {
    const { model, aim } = this.on
    const { at, weight, tone } = aim.levels[i]!
    return weight * errorAt(model, aim, model.levels[at]!, this.drives[at]!, white, tone)
  }

  private shift(r: number, clicks: number): void {
    const { ranges, responses, start } = this.on
    const { feature } = ranges[r]!
    for (const [at, red, blue, tone] of responses[r]!) {
      const d = this.drives[at]!
      d.red += clicks * red
      d.blue += clicks * blue
      d.tone += clicks * tone
    }
    const cost = costOf(ranges[r]!)
    this.away -= cost * Math.abs(this.amounts[feature]! - start[feature]!)
    this.amounts[feature] = this.amounts[feature]! + clicks
    this.away += cost * Math.abs(this.amounts[feature]! - start[feature]!)
  }

  private inRange(r: number, clicks: number): boolean {
    const { feature, low, high } = this.on.ranges[r]!
    const to = this.amounts[feature]! + clicks
    return to >= low - 1e-9 && to <= high + 1e-9
  }

  /** Tries the same clicks of some controls at once; keeps them where the whole becomes less. */
  attemptAll(all: readonly number[], c: number): boolean {
    const { model, aim, weights } = this.on
    if (!all.every((r) => this.inRange(r, c))) return false
    const before = this.price
    for (const r of all) this.shift(r, c)
    const white = whiteOf(model, aim, this.drives)
    const tried = Float64Array.from(aim.levels, (_, i) => this.errorOf(i, white))
    const sum = tried.reduce((a, b) => a + b, 0)
    if (sum / weights + this.away < before - 1e-7) {
      this.errors.set(tried)
      this.total = sum
      this.white = white
      return true
    }
    for (const r of all) this.shift(r, -c)
    return false
  }

  /** Tries clicks of one control, or of two; keeps them where the whole becomes less. */
  attempt(r: number, c: number, s = -1, d = 0): boolean {
    if (!this.inRange(r, c) || (s >= 0 && !this.inRange(s, d))) return false
    const { model, aim, touched, weights } = this.on
    const before = this.price
    this.shift(r, c)
    if (s >= 0) this.shift(s, d)
    const movesWhite = touched[r]!.white || (s >= 0 && touched[s]!.white)
    const white = movesWhite ? whiteOf(model, aim, this.drives) : this.white
    let sum = this.total
    for (const i of touched[r]!.levels) sum += this.look(i, white)
    if (s >= 0)
      for (const i of touched[s]!.levels) if (!touched[r]!.levels.includes(i)) sum += this.look(i, white)
    if (sum / weights + this.away < before - 1e-7) {
      for (const i of touched[r]!.levels) this.errors[i] = this.next[i]!
      if (s >= 0) for (const i of touched[s]!.levels) this.errors[i] = this.next[i]!
      this.total = sum
      this.white = white
      return true
    }
    this.shift(r, -c)
    if (s >= 0) this.shift(s, -d)
    return false
  }

  private look(i: number, white: XYZ): number {
    this.next[i] = this.errorOf(i, white)
    return this.next[i]! - this.errors[i]!
  }
}

/** Groups and pairs of places in the ranges that are tried together. */
interface Moves {
  readonly pairs: ReadonlyArray<readonly [number, number]>
  readonly together: ReadonlyArray<readonly number[]>
}

/** Walks whole clicks until nothing finds better. */
const walkFrom = (on: Terrain, from: Float64Array, { pairs, together }: Moves): Walk => {
  const walk = new Walk(on, from)
  const count = on.ranges.length
  const near = count > FEW ? 1 : GREY_CLICKS_NEAR
  for (let round = 0; round < 12; round++) {
    let improved = false
    for (const group of together)
      for (const c of [-8, -4, -2, -1, 1, 2, 4, 8]) while (walk.attemptAll(group, c)) improved = true
    for (let r = 0; r < count; r++)
      for (let c = 1; c <= near; c++) {
        while (walk.attempt(r, c)) improved = true
        while (walk.attempt(r, -c)) improved = true
      }
    for (const [r, s] of pairs)
      for (let c = -GREY_CLICKS_NEAR; c <= GREY_CLICKS_NEAR; c++)
        for (let d = -GREY_CLICKS_NEAR; d <= GREY_CLICKS_NEAR; d++)
          if (c !== 0 && d !== 0) while (walk.attempt(r, c, s, d)) improved = true
    if (!improved) break
  }
  return walk
}

const solve = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  start: Float64Array,
  chains: ReadonlyArray<readonly number[]>,
  moves: Moves,
): Solution => {
  const on = terrainOf(model, aim, ranges, start)
  const a = walkFrom(on, leastSquares(model, aim, ranges, start, chains), moves)
  // With many controls the least-squares start is near enough.
  const inside = Float64Array.from(start)
  for (const { feature, low, high } of ranges)
    inside[feature] = Math.min(high, Math.max(low, start[feature]!))
  const b = ranges.length > FEW ? undefined : walkFrom(on, inside, moves)
  const { amounts, error } = b && b.price < a.price ? b : a
  return { amounts, error }
}

/**
 * Drive of white that tone is counted from: where light is absolute the one that gives it, else white as it is, which need not be where the
 * reference had it. In: model, what counts, present amounts.
 */
export const toneOfWhite = (
  model: GreyModel,
  { absolute, light }: Pick<GreyAim, 'absolute' | 'light'>,
  amounts: Float64Array,
): number => {
  const at = model.levels.length - 1
  const drives = drivesAt(model, at, amounts)
  if (absolute === undefined) return drives.tone
  const [, now] = lightOfDrives(model, model.levels[at]!, drives, light)
  return drives.tone * (absolute / Math.max(1e-9, now)) ** (1 / model.exponent)
}

/** Clicks that bring the drives nearest to what is wanted, unrounded effects solved for together, then rounded and kept in range. */
const leastSquares = (
  model: GreyModel,
  aim: GreyAim,
  ranges: readonly ClickRange[],
  start: Float64Array,
  chains: ReadonlyArray<readonly number[]>,
): Float64Array => {
  const n = ranges.length
  if (n === 0) return Float64Array.from(start)
  const normal = Matrix.zeros(n, n)
  const right = new Float64Array(n)
  const fixed = Float64Array.from(start)
  for (const r of ranges) fixed[r.feature] = 0
  const top = toneOfWhite(model, aim, start)
  const aspects: readonly Aspect[] = aim.toneWeight > 0 ? ASPECTS : ['red', 'blue']
  for (const { at, weight, tone = 1 } of aim.levels) {
    const level = model.levels[at]!
    const drives = drivesAt(model, at, fixed)
    for (const aspect of aspects) {
      const wanted =
        aspect === 'tone'
          ? top * aim.curve.luminanceOf(level, { white: 1, black: aim.black }) ** (1 / model.exponent)
          : level
      // What is seen of a drive is its share of the level.
      const w = (weight * (aspect === 'tone' ? aim.toneWeight * tone : 1)) / level ** 2
      const rest = wanted - drives[aspect]
      const effects = ranges.map((r) => model.effect[aspect][r.feature]![at]!)
      for (let i = 0; i < n; i++) {
        if (effects[i] === 0) continue
        right[i] = right[i]! + w * effects[i]! * rest
        for (let j = 0; j < n; j++) normal.set(i, j, normal.get(i, j) + w * (effects[i]! * effects[j]!))
      }
    }
  }
  // Neighbours in level that jump against each other cancel where they are read, and only there.
  for (const chain of chains) {
    const stiff =
      (GREY_CLICKS_STIFF * chain.reduce((sum, i) => sum + normal.get(i, i), 0)) / Math.max(1, chain.length)
    for (let k = 1; k + 1 < chain.length; k++) {
      const bend = [
        [chain[k - 1]!, 1],
        [chain[k]!, -2],
        [chain[k + 1]!, 1],
      ] as const
      for (const [i, a] of bend) for (const [j, b] of bend) normal.set(i, j, normal.get(i, j) + stiff * a * b)
    }
  }
  // A little pull towards where the display stands keeps what is not told apart at rest.
  for (const [i, r] of ranges.entries()) {
    // What costs is held more firmly.
    const pull = (r.cost === undefined ? GREY_CLICKS_PULL : COSTLY) * normal.get(i, i) + 1e-12
    normal.set(i, i, normal.get(i, i) + pull)
    right[i] = right[i]! + pull * start[r.feature]!
  }
  const solution = new CholeskyDecomposition(normal).solve(Matrix.columnVector([...right])).to1DArray()
  const out = Float64Array.from(start)
  ranges.forEach((r, i) => {
    out[r.feature] = Math.min(r.high, Math.max(r.low, Math.round(solution[i]!)))
  })
  return out
}
