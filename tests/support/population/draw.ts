import { type Channel, ControlSheet, type Hue } from '#core/display'
import { uniform } from '#core/random'

/**
 * Displays that nobody has seen, drawn at random over what real ones do. They share nothing with the displays that ship: other equations,
 * other sheets, other quirks. Each property is drawn from the range that stands beside it.
 */

const CHANNELS: readonly Channel[] = ['red', 'green', 'blue']
const SIX: readonly Hue[] = ['red', 'yellow', 'green', 'cyan', 'blue', 'magenta']
export type Triple = readonly [number, number, number]

/** How a gain grows with its clicks. */
export type GainKind = 'linear' | 'saturating' | 'dead-zone'
/** What a click of a level-by-level control does: a share of the drive, the same drive everywhere, or nothing below a level. */
export type LevelEffect = 'proportional' | 'constant' | 'flat-in-the-dark'
/** Shape of a level-by-level control between its neighbours. */
export type LevelShape = 'triangle' | 'cosine' | 'spline'
/** What is wrong with a control that its sheet says nothing of. */
export type Quirk = 'dead' | 'backwards' | 'stops-half-way' | 'couples' | 'forgets'

/** Everything that makes a display of the population. */
export interface Drawn {
  readonly seed: number
  /** In words, for tables of figures. */
  readonly family: string
  readonly sheet: ControlSheet
  readonly primaries: readonly [
    readonly [number, number],
    readonly [number, number],
    readonly [number, number],
  ]
  /** Amount of each channel in white, and exponent of its curve. */
  readonly amounts: Triple
  readonly exponents: Triple
  /** Bump on each channel's curve: depth as a share, and phase. */
  readonly bump: { readonly depth: number; readonly phase: Triple }
  /** Highest drive of each channel; the lowest of them clips first. */
  readonly ceilings: Triple
  /** Light that is lost while all channels are open, as a share. */
  readonly nonAdditivity: number
  readonly contrast: number
  readonly luminance: { readonly low: number; readonly high: number; readonly bend: number }
  /** Share of light that is lost at a full screen. */
  readonly windowDimming: number
  readonly warmUp: { readonly share: number; readonly seconds: number }
  readonly tones: Readonly<
    Record<string, { readonly exponent: number; readonly white: Triple; readonly lifted: boolean }>
  >
  readonly presets: Readonly<Record<string, Triple>>
  readonly modes: Readonly<
    Record<string, { readonly white: Triple; readonly saturation: number; readonly exponent: number }>
  >
  readonly gain: {
    readonly kind: GainKind
    readonly perClick: number
    readonly inLight: boolean
    readonly onlyDown: boolean
  }
  readonly cut: { readonly perClick: number; readonly bend: number }
  readonly levels: {
    readonly effect: LevelEffect
    readonly shape: LevelShape
    readonly beforeTone: boolean
    readonly perClick: number
    /** How far control points lie off their labels, as a share of the signal. */
    readonly off: number
  }
  /** Tone level by level: levels with a control, and what a click adds to the signal there, as a share of it. */
  readonly levelTone: { readonly levels: readonly number[]; readonly perClick: number }
  readonly black: number
  readonly whiteLevel: number
  readonly colour: {
    readonly kind: 'none' | 'amounts' | 'hsl'
    readonly perClick: number
    readonly crosstalk: number
    /** Clicks that its colours are off by, as if controls stood there. */
    readonly off?: Readonly<Record<string, number>>
  }
  readonly gamuts: Readonly<Record<string, { readonly fitted: boolean; readonly boost: number }>>
  readonly quirk: { readonly control: string; readonly kind: Quirk } | null
  /** Zones of light that cannot be switched off, from the weakest on: what each value leaves of black's light, and how far it crushes shades. */
  readonly zones?: Readonly<Record<string, { readonly leak: number; readonly crush: number }>>
  /** Share of its light that care for the panel takes while it is on. */
  readonly care?: number
  /** What each value of a light source's iris leaves of light, and of black. */
  readonly iris?: Readonly<Record<string, { readonly light: number; readonly black: number }>>
  /** Scatter of the meter as a share of the value and in the dark, cd/m²; how often it times out. */
  readonly meter: {
    readonly relative: number
    readonly dark: number
    readonly timeouts: number
    /** How much more it scatters than it states. */
    readonly scatters?: number
  }
}

const FIVE = [0.2, 0.4, 0.6, 0.8, 1]
const TEN = Array.from({ length: 10 }, (_, i) => (i + 1) / 10)

/** Share of the displays on which one control is not what it says. */
const QUIRKY = 0.15

/** A fault that came later to the population; undefined where it is one of the first three. */
const strange = (drawn: number): Quirk | undefined =>
  drawn < 0.25 ? 'couples' : drawn < 0.4 ? 'forgets' : undefined

/** Draws a display. In: seed; the same seed gives the same display. */
export const drawDisplay = (seed: number): Drawn => {
  const next = uniform(7919 * seed + 13)
  // What came later is drawn apart, so that a display stays what it was.
  const later = uniform(104_729 * seed + 29)
  const between = (a: number, b: number) => a + (b - a) * next()
  const whole = (a: number, b: number) => Math.floor(between(a, b + 1))
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!
  const chance = (p: number) => next() < p
  const three = (f: () => number): Triple => [f(), f(), f()]
  const around = (centre: number, spread: number) => centre + spread * (next() + next() + next() - 1.5)

  const count = pick([0, 0, 5, 10, 11, 20, 22])
  const levels = Array.from({ length: count }, (_, i) =>
    count === 11 ? (i === 0 ? 0.05 : i / 10) : Math.round((1000 * (i + 1)) / count) / 1000,
  )
  const gainKind = pick<GainKind>(['linear', 'linear', 'saturating', 'dead-zone'])
  const onlyDown = chance(0.3)
  const gainReach = pick([20, 30, 50, 128])
  const colourKind = pick(['none', 'amounts', 'hsl'] as const)
  const toneNames = ['curve-18', 'curve-20', 'curve-22', 'curve-24', 'curve-26'].slice(
    whole(0, 1),
    4 + whole(0, 1),
  )
  const lie = chance(0.4) ? between(-0.2, 0.2) : 0
  const withStandard = later() < 0.4
  if (withStandard) toneNames.push('bt-1886')
  const toneLevels = later() < 0.25 ? (later() < 0.5 ? FIVE : TEN) : []
  const modes = ['vivid', 'standard', 'cinema', 'user'].slice(0, whole(2, 4))
  const presets = ['cool', 'neutral', 'warm', 'warmer', 'native'].slice(0, whole(2, 5))
  const gamuts = chance(0.5) ? ['automatic', 'wide', ...(chance(0.4) ? ['boost'] : [])] : []

  const capital = (text: string) => text[0]!.toUpperCase() + text.slice(1)
  const perMode = ['mode' as const]
  const place = (
    key: string,
    path: readonly string[],
    role: string,
    memory: readonly string[] = perMode,
    label = key.replaceAll('-', ' '),
  ) => ({
    key,
    path: [...path],
    label: capital(label),
    role,
    memory: [...memory],
  })
  const number = (
    base: ReturnType<typeof place>,
    [min, max, first]: readonly [number, number, number],
    more: object = {},
  ) => ({ ...base, kind: 'number', range: { min, max, step: 1 }, default: first, ...more })
  const choice = (
    base: ReturnType<typeof place>,
    values: readonly string[],
    first: string,
    more: object = {},
  ) => ({
    ...base,
    kind: 'choice',
    choices: values.map((value) => ({ value, label: value })),
    default: first,
    ...more,
  })
  const withPreset = chance(0.5) ? ['white-preset'] : perMode
  const gainRange = onlyDown ? ([0, gainReach, gainReach] as const) : ([-gainReach, gainReach, 0] as const)
  const controls = [
    choice(place('mode', ['Menu'], 'picture-mode', []), modes, pick(modes)),
    number(place('light', ['Menu'], 'peak-luminance'), [0, 100, whole(50, 100)]),
    ...(chance(0.7) ? [number(place('black', ['Menu'], 'black-level'), [0, 100, 50], { neutral: 50 })] : []),
    ...(chance(0.7) ? [number(place('contrast', ['Menu'], 'white-level'), [0, 100, whole(80, 95)])] : []),
    ...(chance(0.8)
      ? [choice(place('tone', ['Menu', 'Expert'], 'tone-curve'), toneNames, pick(toneNames))]
      : []),
    choice(place('preset', ['Menu', 'Expert'], 'white-preset'), presets, pick(presets)),
    ...(gamuts.length ? [choice(place('gamut', ['Menu', 'Expert'], 'gamut'), gamuts, pick(gamuts))] : []),
    ...(['gain', 'cut'] as const).flatMap((role) =>
      CHANNELS.map((channel) =>
        number(
          place(`${role}-${channel}`, ['Menu', 'Expert', 'Two points'], role, withPreset),
          role === 'gain' ? gainRange : [-gainReach, gainReach, 0],
          { channel, neutral: role === 'gain' && onlyDown ? gainReach : 0 },
        ),
      ),
    ),
    ...levels.flatMap((level) =>
      CHANNELS.map((channel) =>
        number(
          place(
            `at-${Math.round(1000 * level)}-${channel}`,
            ['Menu', 'Expert', 'Points', `${Math.round(1000 * level) / 10} %`],
            'level-white',
            withPreset,
            channel,
          ),
          [-50, 50, 0],
          { channel, level, neutral: 0 },
        ),
      ),
    ),
    ...toneLevels.map((level) =>
      number(
        place(
          `tone-at-${Math.round(100 * level)}`,
          ['Menu', 'Expert', 'Tone'],
          'level-tone',
          perMode,
          `Tone at ${Math.round(1000 * level) / 10} %`,
        ),
        [-30, 30, 0],
        { level, neutral: 0 },
      ),
    ),
    ...(colourKind === 'amounts'
      ? SIX.flatMap((colour) =>
          CHANNELS.map((channel) =>
            number(
              place(
                `six-${colour}-${channel}`,
                ['Menu', 'Colours', capital(colour)],
                'colour-amount',
                perMode,
                `${channel} share`,
              ),
              [-50, 50, 0],
              {
                colour,
                channel,
                neutral: 0,
              },
            ),
          ),
        )
      : colourKind === 'hsl'
        ? SIX.flatMap((colour) =>
            (['hue', 'saturation', 'colour-luminance'] as const).map((role) =>
              number(
                place(
                  `six-${colour}-${role}`,
                  ['Menu', 'Colours', capital(colour)],
                  role,
                  perMode,
                  role.replace('colour-', ''),
                ),
                [-50, 50, 0],
                { colour, neutral: 0 },
              ),
            ),
          )
        : []),
  ]
  const movable = controls.filter((c) => c.role === 'gain' || c.role === 'level-white')
  return {
    seed,
    family: `${count} levels, gains ${onlyDown ? 'only down' : gainKind}, colour ${colourKind}, ${toneLevels.length} of tone`,
    sheet: ControlSheet.parse({
      format: 'wexmar-control-sheet/2',
      maker: 'Population',
      model: `P${seed}`,
      controls,
    }),
    primaries: [
      [around(0.66, 0.02), around(0.325, 0.01)],
      [around(0.28, 0.03), around(0.64, 0.03)],
      [around(0.152, 0.006), around(0.055, 0.008)],
    ],
    amounts: three(() => between(0.8, 1.2)),
    exponents: three(() => between(2.05, 2.4)),
    bump: { depth: between(0, 0.06), phase: three(() => between(0, 6)) },
    ceilings: three(() => (chance(0.25) ? between(0.99, 1.01) : between(1.02, 1.15))),
    nonAdditivity: between(0, 0.04),
    contrast: 10 ** between(2.9, 5),
    luminance: { low: between(20, 50), high: between(250, 900), bend: between(0.8, 1.6) },
    windowDimming: between(0, 0.3),
    warmUp: { share: between(0.01, 0.04), seconds: between(600, 3600) / 3 },
    tones: Object.fromEntries(
      toneNames.map((name) => [
        name,
        {
          exponent: name === 'bt-1886' ? 2.4 : Number(name.slice(-2)) / 10 + lie,
          // The maker's own idea of the standard: with the contrast that its panel has.
          lifted: name === 'bt-1886',
          white: chance(0.3) ? three(() => between(0.98, 1.02)) : ([1, 1, 1] as const),
        },
      ]),
    ),
    presets: Object.fromEntries(
      presets.map((name, i) => {
        const warmth = 0.12 * (1 - (2 * i) / Math.max(1, presets.length - 1)) + between(-0.03, 0.03)
        return [name, [1 - warmth, 1, 1 + warmth] as const]
      }),
    ),
    modes: Object.fromEntries(
      modes.map((name, i) => [
        name,
        {
          white: three(() => between(0.97, 1.03)),
          saturation: i === 0 ? between(1.1, 1.4) : 1,
          exponent: i === 0 ? between(0.85, 0.95) : 1,
        },
      ]),
    ),
    gain: { kind: gainKind, perClick: 0.25 / gainReach, inLight: chance(0.4), onlyDown },
    cut: { perClick: between(0.03, 0.08) / gainReach, bend: between(1, 3) },
    levels: {
      effect: pick<LevelEffect>(['proportional', 'constant', 'flat-in-the-dark']),
      shape: pick<LevelShape>(['triangle', 'cosine', 'spline']),
      beforeTone: chance(0.3),
      perClick: between(0.0008, 0.003),
      off: chance(0.5) ? between(-0.02, 0.02) : 0,
    },
    levelTone: { levels: toneLevels, perClick: 0.001 + 0.003 * later() },
    black: between(0.0003, 0.001),
    whiteLevel: between(0.001, 0.004),
    colour: { kind: colourKind, perClick: between(0.002, 0.006), crosstalk: between(0, 0.2) },
    gamuts: Object.fromEntries(
      gamuts.map((name) => [
        name,
        { fitted: name === 'automatic', boost: name === 'boost' ? between(1.05, 1.2) : 1 },
      ]),
    ),
    quirk:
      movable.length && chance(QUIRKY)
        ? {
            control: pick(movable).key,
            kind: strange(later()) ?? pick<Quirk>(['dead', 'backwards', 'stops-half-way']),
          }
        : null,
    meter: {
      relative: between(0.001, 0.005),
      dark: between(0.0005, 0.003),
      timeouts: chance(0.3) ? 0.01 : 0,
    },
  }
}
