import type { Channel, Control, NumberControl } from '#core/display'
import type { Aspect } from './aspect'
import { type ControlsByRole, reachOf } from './controls-by-role'
import { type LevelPage, type LevelShape, pageSign, responseOf } from './level-pages'
import {
  EXPECTED_RESPONSE_BLACK,
  EXPECTED_RESPONSE_CUT,
  EXPECTED_RESPONSE_GAIN,
  LEVEL_OWN,
  WHITE_END,
} from './tuning'

/** One way in which a click may move an aspect: a shape over the levels, how large it may be, how freely it bends. */
export interface Term {
  readonly shape: (level: number) => number
  /** Standard deviation of the amount of this shape. */
  readonly sigma: number
  /** Correlation length in the logarithm of the level; left out: the shape is rigid. */
  readonly length?: number
  /** Controls that share a group share this amount, as the controls of one menu page usually do. */
  readonly group?: string
}

/** What a click of a control is expected to do to one aspect before it was tried, as drive per click by level. */
export interface Effect {
  readonly mean: (level: number) => number
  readonly terms: readonly Term[]
}

/** What was learned of a control elsewhere: its effect by level, and how far it may differ here, as a share. */
export interface EffectPrior {
  readonly levels: readonly number[]
  readonly mean: readonly number[]
  readonly sigma: number
}

const NONE: Effect = { mean: () => 0, terms: [] }
const level = (l: number) => l
const fading = (l: number) => 1 - l

/** Drive that a click on `of` adds to an aspect: its own channel moves it, green moves red and blue the other way. */
const SIGN: Readonly<Record<Aspect, Readonly<Record<Channel, number>>>> = {
  red: { red: 1, green: -1, blue: 0 },
  blue: { red: 0, green: -1, blue: 1 },
  tone: { red: 0, green: 1, blue: 0 },
}

const gainEffect = (control: NumberControl, sign: number): Effect => {
  const k = EXPECTED_RESPONSE_GAIN.mean / reachOf(control)
  const s = EXPECTED_RESPONSE_GAIN.sigma / reachOf(control)
  if (sign === 0)
    return {
      mean: () => 0,
      terms: [
        { shape: level, sigma: 0.12 * k },
        { shape: fading, sigma: 0.03 * k },
      ],
    }
  return {
    mean: (l) => sign * k * l,
    terms: [
      { shape: level, sigma: s },
      { shape: level, sigma: 0.12 * k, length: 1 },
      { shape: fading, sigma: 0.1 * k },
    ],
  }
}

const cutEffect = (control: NumberControl, sign: number): Effect => {
  const k = EXPECTED_RESPONSE_CUT.mean / reachOf(control)
  const s = EXPECTED_RESPONSE_CUT.sigma / reachOf(control)
  if (sign === 0) return { mean: () => 0, terms: [{ shape: fading, sigma: 0.12 * k }] }
  return {
    mean: (l) => sign * k * (1 - l),
    terms: [
      { shape: fading, sigma: s },
      { shape: fading, sigma: 0.45 * k, length: 0.8 },
      { shape: level, sigma: 0.3 * k },
    ],
  }
}

const levelEffect = (
  control: NumberControl,
  page: LevelPage,
  aspect: Aspect,
  shape: LevelShape,
  levels: readonly number[],
): Effect => {
  const sign = pageSign(aspect, page)
  // One channel of one level leaves the others alone.
  if (sign === 0) return NONE
  const own = control.level ?? 0
  const response = responseOf(shape, page, own, levels)
  const wide = { ...shape, width: 1.5 * shape.width }
  const flank = responseOf(wide, page, own, levels)
  const { mean, sigma } = shape.strength[page]
  const size = Math.abs(mean)
  return {
    mean: (l) => sign * mean * response(l),
    terms: [
      { shape: response, sigma: sign * sigma, group: `level-${page}` },
      { shape: response, sigma: (shape.seen ? LEVEL_OWN.own : LEVEL_OWN.unseen) * size },
      { shape: flank, sigma: (shape.seen ? LEVEL_OWN.flank : LEVEL_OWN.unseen) * size, length: 0.12 },
    ],
  }
}

/** A choice that may move everything a little, without anybody knowing which way. */
const unknownChange = (aspect: Aspect, chroma: number, tone: number): Effect => {
  const size = aspect === 'tone' ? tone : chroma
  return {
    mean: () => 0,
    terms: [
      { shape: level, sigma: size },
      { shape: level, sigma: 0.3 * size, length: 0.7 },
    ],
  }
}

/** A white preset works as gains do: every level moves in proportion, far and nobody knows which way. */
const presetChange = (aspect: Aspect, size: number): Effect => {
  const own = aspect === 'tone' ? 0.15 * size : size
  return {
    mean: () => 0,
    terms: [
      { shape: level, sigma: own },
      { shape: level, sigma: 0.02 * own, length: 0.8 },
      { shape: fading, sigma: 0.01 * own },
    ],
  }
}

/** A tone curve leaves white and black where they are and moves what lies between. */
const toneChange = (aspect: Aspect, per: number): Effect => {
  const between = (l: number) => l * Math.min(1, -Math.log(Math.max(1e-3, l)) + 0.02)
  const size = (aspect === 'tone' ? 0.12 : 0.02) * per
  return {
    mean: () => 0,
    terms: [
      { shape: between, sigma: size },
      { shape: level, sigma: 0.35 * size, length: 0.8 },
    ],
  }
}

/** Interpolates what was learned, held at its ends. */
const priorMean =
  ({ levels, mean }: EffectPrior) =>
  (at: number): number => {
    const above = levels.findIndex((l) => l >= at)
    if (above < 0) return mean.at(-1)!
    if (above === 0) return levels[0] === at ? mean[0]! : mean[0]!
    const [a, b] = [levels[above - 1]!, levels[above]!]
    const t = (at - a) / (b - a)
    return mean[above - 1]! * (1 - t) + mean[above]! * t
  }

const effectOfPrior = (learned: EffectPrior): Effect => {
  const mean = priorMean(learned)
  const most = Math.max(...learned.mean.map(Math.abs))
  const near = (l: number) => Math.abs(mean(l)) + 0.04 * most * l
  return {
    mean,
    terms: [
      { shape: mean, sigma: learned.sigma },
      { shape: near, sigma: 0.6 * learned.sigma, length: 0.7 },
    ],
  }
}

/**
 * What a click of a control (or, for a choice, another choice than the reference's) is expected to do to an aspect.
 * In: controls of the sheet, the control, aspect; how level-by-level controls act; what was learned elsewhere. Out: effect; one without terms does nothing.
 */
export const expectedEffect = (
  byRole: ControlsByRole,
  control: Control,
  aspect: Aspect,
  levelShape: LevelShape,
  learned?: EffectPrior,
): Effect => {
  if (learned && control.role !== 'level-white' && control.role !== 'level-tone')
    return effectOfPrior(learned)
  if (control.kind === 'number') {
    const sign = control.channel ? SIGN[aspect][control.channel] : 0
    switch (control.role) {
      case 'gain':
        return gainEffect(control, sign)
      case 'cut':
        return cutEffect(control, sign)
      case 'level-white': {
        const page = control.channel
        if (!page) return NONE
        const levels = byRole.levelWhite.filter((c) => c.channel === page).map((c) => c.level)
        return levelEffect(control, page, aspect, levelShape, levels)
      }
      case 'level-tone':
        return levelEffect(
          control,
          'tone',
          aspect,
          levelShape,
          byRole.levelTone.map((c) => c.level),
        )
      case 'black-level':
        return aspect === 'tone'
          ? {
              mean: (l) => (EXPECTED_RESPONSE_BLACK.mean / reachOf(control)) * (1 - l),
              terms: [
                { shape: fading, sigma: EXPECTED_RESPONSE_BLACK.sigma / reachOf(control) },
                {
                  shape: fading,
                  sigma: (0.4 * EXPECTED_RESPONSE_BLACK.mean) / reachOf(control),
                  length: 0.8,
                },
              ],
            }
          : {
              mean: () => 0,
              terms: [{ shape: fading, sigma: (0.1 * EXPECTED_RESPONSE_BLACK.mean) / reachOf(control) }],
            }
      case 'white-level':
        return aspect === 'tone'
          ? {
              mean: (l) => (WHITE_END.mean / reachOf(control)) * l,
              terms: [{ shape: level, sigma: WHITE_END.sigma / reachOf(control) }],
            }
          : { mean: () => 0, terms: [{ shape: level, sigma: (0.1 * WHITE_END.mean) / reachOf(control) }] }
      case 'white-preset': {
        const clicks = Math.max(1, (control.range.max - control.range.min) / control.range.step / 2)
        return presetChange(aspect, 0.25 / clicks)
      }
      case 'tone-curve':
        return toneChange(
          aspect,
          3 / Math.max(1, (control.range.max - control.range.min) / control.range.step),
        )
      case 'shadow-lift':
      case 'highlight-lift':
        return unknownChange(aspect, 0.02, 0.1)
      default:
        return QUIET.has(control.role) ? NONE : unknownChange(aspect, 0.0012, 0.02)
    }
  }
  switch (control.role) {
    case 'white-preset':
      return presetChange(aspect, 0.25)
    case 'tone-curve':
      return toneChange(aspect, 1)
    case 'gamut':
      return unknownChange(aspect, 0.02, 0.02)
    default:
      return QUIET.has(control.role) ? NONE : unknownChange(aspect, 0.0012, 0.03)
  }
}

/** Roles that leave greys alone, and the light of the panel, which is reckoned with apart. */
const QUIET: ReadonlySet<Control['role']> = new Set<Control['role']>([
  'peak-luminance',
  'hue',
  'saturation',
  'colour-luminance',
  'colour-amount',
  'sharpness',
  'noise-reduction',
  'sound',
  'variable-refresh',
  'input-label',
  'socket-format',
  'aspect',
  'copy',
  'other',
])
/** Whether a control can move greys at all. */
export const affectsGrey = (control: Control): boolean => !QUIET.has(control.role)

/** Roles that change so much that readings before and after do not belong together. */
export const BREAKS_GREY: ReadonlySet<Control['role']> = new Set<Control['role']>([
  'picture-mode',
  'dynamic-contrast',
  'power-saving',
  'ambient-light',
  'range',
  'tone-mapping',
  'latency',
])
