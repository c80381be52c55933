import type { Control, ControlSheet, ControlValue } from '#core/display'
import { isMuted } from '#core/measure'
import {
  ASPECTS,
  type ColourModel,
  type ControlsByRole,
  coloursIn,
  featureOf,
  type GreyModel,
  lightOfPatch,
  placeOf,
  placesOf,
  type ResponsePrior,
  responseOfAll,
} from '#core/model'
import type { Target } from '#core/target'
import type { Route } from './route'
import { LEVELS } from './tuning'

type Prior = Omit<ResponsePrior, 'units'>

/** What a click of gains, cuts and single levels moves of each aspect of grey. */
const effectPriors = ({ context }: Route): Prior[] => {
  const { byRole } = context
  const plain = context.greyTwoPoint()
  const model = context.grey()
  return model && plain ? [...pairEffects(byRole, plain), ...levelEffects(byRole, model)] : []
}

/** How often a control was moved among the readings of a model. */
const readingsMoved = ({ observations, reference }: GreyModel, key: string): number =>
  observations.filter((o) => o.state[key] !== reference[key]).length

const pairEffects = (byRole: ControlsByRole, plain: GreyModel): Prior[] => {
  const at = LEVELS.filter((l) => plain.levels.includes(l))
  const preset = byRole.preset?.kind === 'number' ? [byRole.preset] : []
  return [...Object.values(byRole.gain), ...Object.values(byRole.cut), ...preset].flatMap((control) => {
    const f = featureOf(plain, control.key)
    const readings = readingsMoved(plain, control.key)
    if (f < 0 || readings < 2) return []
    return ASPECTS.map(
      (aspect): Prior => ({
        control: control.key,
        kind: 'effect',
        aspect,
        at,
        mean: at.map((l) => plain.effect[aspect][f]![plain.levels.indexOf(l)]!),
        sigma: 0.1,
        readings,
      }),
    )
  })
}

/** What a click of a single level does at its own level, against the level. */
const levelEffects = (byRole: ControlsByRole, model: GreyModel): Prior[] => {
  const { strength, growth, seen } = model.levelShape
  if (!seen) return []
  return (['red', 'green', 'blue'] as const).flatMap((channel) => {
    const all = byRole.levelWhite.filter((l) => l.channel === channel)
    const own = all.filter((l) => readingsMoved(model, l.control.key) > 1)
    if (own.length < 2) return []
    return all.flatMap(({ control, level }) =>
      ASPECTS.map(
        (aspect): Prior => ({
          control: control.key,
          kind: 'effect',
          aspect,
          at: [control.level ?? 0],
          mean: [strength[channel].mean * Math.max(0.02, level) ** (growth - 1)],
          sigma: 0.15,
          readings: own.length,
        }),
      ),
    )
  })
}

/** How luminance follows its control, as shares of the brightest. */
const lightPrior = ({ context: { byRole, light } }: Route): Prior[] => {
  if (!byRole.light || !light || light.curve.points.length < 3) return []
  const { min, max } = placesOf(byRole.light)
  const at = Array.from({ length: PLACES }, (_, i) => min + ((max - min) * i) / (PLACES - 1))
  const top = light.curve.at(max)
  return [
    {
      control: byRole.light.key,
      kind: 'curve',
      aspect: '',
      at,
      mean: at.map((p) => light.curve.at(p) / top),
      sigma: 0.05,
      readings: light.curve.points.length,
    },
  ]
}
/** Places of the luminance control that are written down. */
const PLACES = 9

/** What the values of a choice measured: tone curves, white presets, strengths of dimming. */
const choicePriors = ({ context, tones, white, processing }: Route): Prior[] => {
  const { byRole, facts } = context
  const of = (
    control: Control | undefined,
    kind: ResponsePrior['kind'],
    options: ReadonlyArray<{ value: ControlValue; mean: number[]; sigma: number; readings: number }>,
  ): Prior[] =>
    control
      ? options.map(({ value, ...known }) => ({
          control: control.key,
          kind,
          aspect: '',
          choice: String(value),
          at: [placeOf(control, value)],
          ...known,
        }))
      : []
  const read = <T extends { readonly readingIds: readonly number[] }>(options: readonly T[] = []) =>
    options.filter((o) => o.readingIds.length)
  return [
    ...of(
      byRole.tone,
      'tone',
      tones
        .filter((t) => t.measured)
        .map((t) => ({ value: t.value, mean: [t.exponent], sigma: 0.03, readings: t.readingIds.length })),
    ),
    ...of(
      byRole.preset,
      'preset',
      read(white?.presets).map((p) => ({ value: p.value, mean: [...p.ratios], sigma: 0.01, readings: 1 })),
    ),
    ...byRole.strengths.flatMap((control) =>
      of(
        control,
        'dimming',
        read(processing?.dimming.filter((d) => d.control === control.key)).map((d) => ({
          value: d.value,
          mean: [d.contrast, d.halo, d.bar / facts.targets.luminance, d.shade],
          sigma: 0.1,
          readings: d.readingIds.length,
        })),
      ),
    ),
  ]
}

/** Where black and white level are right. */
const endPriors = ({ context: { byRole, facts }, blackLevel, whiteLevel }: Route): Prior[] => {
  const of = (
    control: Control | undefined,
    aspect: 'black' | 'white',
    mean: readonly number[] | undefined,
    readings: readonly number[] = [],
  ): Prior[] =>
    control && mean
      ? [
          {
            control: control.key,
            kind: 'clipping',
            aspect,
            at: [Number(facts.state[control.key])],
            mean: [...mean],
            sigma: 0.1,
            readings: readings.length,
          },
        ]
      : []
  return [
    ...of(
      byRole.black,
      'black',
      blackLevel && [blackLevel.left ?? blackLevel.offset],
      blackLevel?.readingIds,
    ),
    ...of(byRole.whiteLevel, 'white', whiteLevel?.slopes, whiteLevel?.readingIds),
  ]
}

/**
 * Response priors of a case: how far a click of gains, cuts and level-by-level values moves each aspect of grey,
 * how luminance follows its control, what tone curves and presets measure, what colour management pushes, where both ends are right, what
 * strengths of dimming do. In: the route at the end of a case.
 */
export const priorsOfRoute = (route: Route): ResponsePrior[] => {
  const { context, colour } = route
  const { facts } = context
  const all = [
    ...effectPriors(route),
    ...lightPrior(route),
    ...choicePriors(route),
    ...endPriors(route),
    ...(colour?.model && colour.target ? colourPriors(context, colour.model, colour.target) : []),
  ]
  // What HDR measured of a choice is no measurement of SDR; what a click does is the same.
  const alike = (l: Prior) => context.scale.choicesTravel || l.kind === 'effect' || l.kind === 'colour'
  return all
    .filter((l) => alike(l) && knownTo(facts.sheet, l.control) && l.mean.every(Number.isFinite))
    .map((l) => ({ ...l, units: 1 }))
}

/** What a click of each control of colour management that was moved adds to its full colour, or how strong it is on all. */
const colourPriors = ({ facts }: Route['context'], model: ColourModel, target: Target): ResponsePrior[] => {
  const moved = new Set(facts.adjustments.flatMap((m) => m.changes.map((c) => c.control)))
  return model.controls.flatMap((control, q): ResponsePrior[] => {
    if (!moved.has(control.control.key)) return []
    const p = model.patches.findIndex((one) => isMuted(one, control.colour ?? 'red'))
    if (p < 0) return []
    const light = lightOfPatch(model.patches[p]!, target)
    // Only of the way that it went is anything known.
    const way = model.clicks[q]! < 0 ? 'down' : 'up'
    const response = model.response[p]![q]![way]
    const amount = control.colour ? (coloursIn(light)[control.colour] ?? 0) : 0
    const all = control.colour ? undefined : responseOfAll(control, light)
    const mean = all
      ? [response.reduce((s, v, i) => s + v * all[i]!, 0) / all.reduce((s, v) => s + v * v, 1e-12)]
      : amount > 0
        ? response.map((v) => v / amount)
        : undefined
    return mean
      ? [
          {
            control: control.control.key,
            kind: 'colour',
            aspect: control.kind === 'hue' && control.colour ? way : '',
            at: mean.map((_, i) => i),
            mean,
            sigma: 0.2,
            readings: facts.adjustments.filter((m) =>
              m.changes.some((c) => c.control === control.control.key),
            ).length,
            units: 1,
          },
        ]
      : []
  })
}

const knownTo = (sheet: ControlSheet, key: string): boolean => sheet.controls.some((c) => c.key === key)
