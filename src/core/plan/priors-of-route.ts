import type { ControlSheet } from '#core/display'
import { isMuted } from '#core/measure'
import {
  ASPECTS,
  type ColourModel,
  coloursIn,
  featureOf,
  lightOfPatch,
  placeOf,
  placesOf,
  type ResponsePrior,
  responseOfAll,
} from '#core/model'
import type { Target } from '#core/target'
import type { Route } from './route'
import { LEVELS } from './tuning'

/**
 * Response priors of a case: how far a click of gains, cuts and level-by-level values moves each aspect of grey,
 * how luminance follows its control, what tone curves and presets measure, what colour management pushes, where both ends are right, what
 * strengths of dimming do. In: the route at the end of a case.
 */
export const priorsOfRoute = ({
  context,
  tones,
  white,
  blackLevel,
  whiteLevel,
  colour,
  processing,
}: Route): ResponsePrior[] => {
  const { facts, byRole, light } = context
  const plain = context.greyTwoPoint()
  const model = context.grey()
  const out: ResponsePrior[] = []
  if (model && plain) {
    const movedIn = (of: typeof model, key: string) =>
      of.observations.filter((o) => o.state[key] !== of.reference[key])
    const moved = (key: string) => movedIn(model, key)
    const pairs = [...Object.values(byRole.gain), ...Object.values(byRole.cut)]
    const preset = byRole.preset?.kind === 'number' ? [byRole.preset] : []
    for (const control of [...pairs, ...preset]) {
      const f = featureOf(plain, control.key)
      const readings = movedIn(plain, control.key).length
      if (f < 0 || readings < 2) continue
      for (const aspect of ASPECTS) {
        const at = LEVELS.filter((l) => plain.levels.includes(l))
        out.push({
          control: control.key,
          kind: 'effect',
          aspect,
          at,
          mean: at.map((l) => plain.effect[aspect][f]![plain.levels.indexOf(l)]!),
          sigma: 0.1,
          readings,
          units: 1,
        })
      }
    }
    for (const channel of ['red', 'green', 'blue'] as const) {
      const own = byRole.levelWhite.filter((l) => l.channel === channel && moved(l.control.key).length > 1)
      if (own.length < 2) continue
      // What a click does at its own level, against the level.
      const { strength, growth, seen } = model.levelShape
      if (!seen) continue
      for (const { control, level } of byRole.levelWhite.filter((l) => l.channel === channel))
        for (const a of ASPECTS)
          out.push({
            control: control.key,
            kind: 'effect',
            aspect: a,
            at: [control.level ?? 0],
            mean: [strength[channel].mean * Math.max(0.02, level) ** (growth - 1)],
            sigma: 0.15,
            readings: own.length,
            units: 1,
          })
    }
  }
  if (byRole.light && light && light.curve.points.length >= 3) {
    const { min, max } = placesOf(byRole.light)
    const n = 9
    const at = Array.from({ length: n }, (_, i) => min + ((max - min) * i) / (n - 1))
    const top = light.curve.at(max)
    out.push({
      control: byRole.light.key,
      kind: 'curve',
      aspect: '',
      at,
      mean: at.map((p) => light.curve.at(p) / top),
      sigma: 0.05,
      readings: light.curve.points.length,
      units: 1,
    })
  }
  if (byRole.tone)
    for (const option of tones.filter((t) => t.measured))
      out.push({
        control: byRole.tone.key,
        kind: 'tone',
        aspect: '',
        choice: String(option.value),
        at: [placeOf(byRole.tone, option.value)],
        mean: [option.exponent],
        sigma: 0.03,
        readings: option.readingIds.length,
        units: 1,
      })
  const prior = (l: Omit<ResponsePrior, 'units'>) => out.push({ ...l, units: 1 })
  for (const preset of white?.presets ?? [])
    if (byRole.preset && preset.readingIds.length)
      prior({
        control: byRole.preset.key,
        kind: 'preset',
        aspect: '',
        choice: String(preset.value),
        at: [placeOf(byRole.preset, preset.value)],
        mean: [...preset.ratios],
        sigma: 0.01,
        readings: 1,
      })
  if (byRole.black && blackLevel)
    prior({
      control: byRole.black.key,
      kind: 'clipping',
      aspect: 'black',
      at: [Number(facts.state[byRole.black.key])],
      mean: [blackLevel.left ?? blackLevel.offset],
      sigma: 0.1,
      readings: blackLevel.readingIds.length,
    })
  if (byRole.whiteLevel && whiteLevel)
    prior({
      control: byRole.whiteLevel.key,
      kind: 'clipping',
      aspect: 'white',
      at: [Number(facts.state[byRole.whiteLevel.key])],
      mean: [...whiteLevel.slopes],
      sigma: 0.1,
      readings: whiteLevel.readingIds.length,
    })
  if (byRole.dimming)
    for (const strength of processing?.dimming ?? [])
      if (strength.readingIds.length)
        prior({
          control: byRole.dimming.key,
          kind: 'dimming',
          aspect: '',
          choice: String(strength.value),
          at: [placeOf(byRole.dimming, strength.value)],
          mean: [strength.contrast, strength.halo, strength.bar / facts.targets.luminance, strength.shade],
          sigma: 0.1,
          readings: strength.readingIds.length,
        })
  if (colour?.model && colour.target) out.push(...colourPriors(context, colour.model, colour.target))
  // What HDR measured of a choice is no measurement of SDR; what a click does is the same.
  const alike = (l: ResponsePrior) =>
    facts.signal.transfer === 'sdr' || l.kind === 'effect' || l.kind === 'colour'
  return out.filter((l) => alike(l) && knownTo(facts.sheet, l.control) && l.mean.every(Number.isFinite))
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
