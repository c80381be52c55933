import type { Channel } from '#core/display'
import type { Aspect } from './aspect'
import { type ControlsByRole, reachOf } from './controls-by-role'
import { LEVEL_SHAPE, LEVEL_STRENGTH } from './tuning'

/** A change of drive at a level that clicks of level-by-level controls made, as two readings tell it. */
export interface LevelChange {
  /** Signal, 0…1. */
  readonly level: number
  /** Clicks by control key. */
  readonly clicks: ReadonlyMap<string, number>
  /** Drive after minus drive before. */
  readonly change: number
  readonly sigma: number
}

/** The pages of level-by-level controls: white of each channel, and tone. */
export type LevelPage = Channel | 'tone'
export const PAGES: readonly LevelPage[] = ['red', 'green', 'blue', 'tone']

/** How far a click of a page moves the drive, at full signal: expected, and its standard deviation. */
export interface Strength {
  readonly mean: number
  readonly sigma: number
}

/**
 * How the level-by-level controls of a display act. A control of level L moves the drive at signal l by
 * strength · l^growth · W((scale · l^bend · driven^follows + shift − L) / (spacing · width)), W falling from 1 to 0 between 0 and 1: along a
 * straight line, along a cosine, or between them.
 */
export interface LevelShape {
  readonly scale: number
  readonly bend: number
  readonly shift: number
  /** 1: controls act where their channel's own drive stands, gains included; 0: where the signal stands. */
  readonly follows: number
  /** By how much gains raise the drive of each page's channel. */
  readonly driven: Driven
  /** 1: a click moves each level in proportion to it; 0: all levels alike. */
  readonly growth: number
  readonly width: number
  /** 0: straight flanks; 1: a cosine. */
  readonly round: number
  readonly strength: Readonly<Record<LevelPage, Strength>>
  /** Whether changes were read that tell of it. */
  readonly seen: boolean
}

/** By how much gains raise the drive of each page's channel, 1 at rest. */
export type Driven = Readonly<Record<LevelPage, number>>
export const AT_REST: Driven = { red: 1, green: 1, blue: 1, tone: 1 }

type Parameter = keyof typeof LEVEL_SHAPE
export const PARAMETERS = Object.keys(LEVEL_SHAPE) as readonly Parameter[]
export type Form = Record<Parameter, number>

/** The neighbours of a level among those of its page: 0 below the lowest, none above the highest. */
export const besides = (own: number, levels: readonly number[]): readonly [number, number | undefined] => {
  const i = levels.indexOf(own)
  return [i > 0 ? levels[i - 1]! : 0, levels[i + 1]]
}

/** Place among control points at which a signal of a level meets the controls of a page. */
export const placeIn = (
  {
    scale,
    bend,
    shift,
    follows,
    driven,
  }: Pick<LevelShape, 'scale' | 'bend' | 'shift' | 'follows' | 'driven'>,
  page: LevelPage,
  level: number,
): number => scale * level ** bend * driven[page] ** follows + shift

/**
 * Weight of a level's control, 1 at its own place and 0 at its neighbours', held beyond the highest, fading to black below the lowest.
 * In: shape; page; own level; levels of the page, rising. Out: weight of a signal level, 0…1.
 */
export const weightOf = (
  shape: Pick<LevelShape, 'scale' | 'bend' | 'shift' | 'follows' | 'driven' | 'width' | 'round'>,
  page: LevelPage,
  own: number,
  levels: readonly number[],
): ((level: number) => number) => {
  const [below, above] = besides(own, levels)
  return (level) => weightAt(shape, placeIn(shape, page, level), own, below, above)
}

/** The same at a place among control points, between given neighbours. */
export const weightAt = (
  { width, round }: Pick<LevelShape, 'width' | 'round'>,
  at: number,
  own: number,
  below: number,
  above: number | undefined,
): number => {
  const spacing = at <= own ? own - below : above === undefined ? 0 : above - own
  if (spacing <= 0) return 1
  const away = Math.abs(at - own) / (spacing * width)
  if (away >= 1) return 0
  return (1 - round) * (1 - away) + round * (0.5 + 0.5 * Math.cos(Math.PI * away))
}

/** Drive that a click of a level's control moves at a signal level, for a strength of 1. */
export const responseOf = (
  shape: LevelShape,
  page: LevelPage,
  own: number,
  levels: readonly number[],
): ((level: number) => number) => {
  const weight = weightOf(shape, page, own, levels)
  return (level) => level ** shape.growth * weight(level)
}

/** What was known of a page before anything was read here: drive per click by level, as a share of the level, and how sure that is. */
export interface KnownPage {
  readonly perClick: ReadonlyArray<readonly [level: number, share: number]>
  readonly sigma: number
}

/** What is expected of a page, and of its growth where an earlier case told it. */
export const expectationOf = (
  byRole: ControlsByRole,
  page: LevelPage,
  known: KnownPage | undefined,
): Strength & { readonly growth?: number } => {
  const one = (page === 'tone' ? byRole.levelTone : byRole.levelWhite.filter((c) => c.channel === page))[0]
  const points = known?.perClick.filter(([level, share]) => level > 0 && share > 0) ?? []
  if (points.length === 0) {
    const reach = one ? reachOf(one.control) : 1
    return { mean: LEVEL_STRENGTH.mean / reach, sigma: LEVEL_STRENGTH.sigma / reach }
  }
  // A straight line in logarithms: strength at full signal, and how it grows with the level.
  const x = points.map(([level]) => Math.log(level))
  const y = points.map(([level, share]) => Math.log(share * level))
  const n = points.length
  const [mx, my] = [x.reduce((a, b) => a + b, 0) / n, y.reduce((a, b) => a + b, 0) / n]
  const xx = x.reduce((s, v) => s + (v - mx) ** 2, 0)
  const growth = xx > 0 ? x.reduce((s, v, i) => s + (v - mx) * (y[i]! - my), 0) / xx : 1
  const mean = Math.exp(my - growth * mx)
  return { mean, sigma: known!.sigma * mean, growth }
}

/** Sign with which a page moves an aspect: red and blue are looked at against green. */
export const pageSign = (aspect: Aspect, page: LevelPage): number =>
  page === 'tone' || page === 'green'
    ? aspect === 'tone'
      ? 1
      : page === 'green'
        ? -1
        : 0
    : page === aspect
      ? 1
      : 0
