import type { Control, NumberControl } from '#core/display'
import { isMuted } from '#core/measure'
import type { Target } from '#core/target'
import { type ColourModel, expectedResponse, lightOfPatch } from './colour-model'
import { type ControlsByRole, placesOf, quoted } from './controls-by-role'
import { ASPECTS, type Aspect } from './expected-response'
import type { FaultKind } from './grey-aspect'
import { featureOf, type GreyModel } from './grey-model'
import type { LuminanceCurve } from './luminance-curve'
import {
  AT_ITS_LEVEL,
  BRIGHT_ENOUGH,
  CLICKS_TO_SHOW,
  CONTROL_FAULTS_SCATTER,
  CONTROL_FAULTS_USUAL,
  FAR_LIKELIER,
  NOTHING,
  SURPRISING,
} from './tuning'

/** Something faulty about a control, found by its own readings. */
export interface ControlFault {
  readonly control: string
  readonly kind: 'nothing' | 'backwards' | 'coupled' | 'stops' | 'dropped'
  readonly sentence: string
  /** Where it stops: the value from which on it does nothing more. */
  readonly at?: number
  /** It belongs to a single level. */
  readonly byLevel?: boolean
  /** It explains the readings best and is reckoned with, but no two readings that differ in this control alone show it. */
  readonly suspected?: boolean
}

const nothing = (control: Control): ControlFault => ({
  control: control.key,
  kind: 'nothing',
  sentence: `${quoted(control)} has no measurable effect: it is not used from here on.`,
})

/** What a control did against what such a control does. */
const ownAspects = (control: Control): Aspect[] =>
  control.channel === 'green'
    ? ['red', 'blue']
    : control.channel === 'red'
      ? ['red']
      : control.channel === 'blue'
        ? ['blue']
        : []

/** Gains and cuts by what the model learned of a click. */
const pairFaults = (byRole: ControlsByRole, model: GreyModel): ControlFault[] =>
  model.memo.recall('control-faults', model, 'pairs', () => lookForPairs(byRole, model))

const lookForPairs = (byRole: ControlsByRole, model: GreyModel): ControlFault[] => {
  const out: ControlFault[] = []
  const place = (level: number) => model.levels.indexOf(level)
  for (const pair of ['gain', 'cut'] as const)
    for (const control of Object.values(byRole[pair])) {
      const f = featureOf(model, control.key)
      const used = model.observations.filter((o) => o.state[control.key] !== model.reference[control.key])
      const level = place(pair === 'gain' ? 1 : 0.1)
      const own = ownAspects(control)
      if (f < 0 || used.length < 2 || level < 0 || own.length === 0) continue
      const { min, max, step } = control.range
      const reach = Math.max(1, (max - min) / step / 2)
      const clicks = Math.max(
        ...used.map(
          (o) => Math.abs(Number(o.state[control.key]) - Number(model.reference[control.key])) / step,
        ),
      )
      // A click or two may hide in the scatter.
      if ((clicks * CONTROL_FAULTS_USUAL[pair]) / reach < 0.004) continue
      const sign = control.channel === 'green' ? -1 : 1
      const effect = own.reduce((s, a) => s + sign * model.effect[a][f]![level]!, 0) / own.length
      const share = (effect * reach) / CONTROL_FAULTS_USUAL[pair]
      const stops = stopsAt(model, control, own[0]!)
      if (stops !== undefined)
        out.push({
          control: control.key,
          kind: 'stops',
          at: stops,
          sentence: `${quoted(control)} has no further effect beyond ${stops}: adjustments stay on this side of it.`,
        })
      else if (Math.abs(share) < NOTHING)
        out.push(
          didSomething(model, control, own[0]!)
            ? {
                ...nothing(control),
                sentence: `${quoted(control)} has almost no effect beyond its first clicks: it is not used from here on.`,
              }
            : nothing(control),
        )
      else if (share < -NOTHING)
        out.push({
          control: control.key,
          kind: 'backwards',
          sentence: `${quoted(control)} works backwards: more of it gives less ${control.channel}. Compensated.`,
        })
      const other = ASPECTS.filter((a) => a !== 'tone' && !own.includes(a))
      const stray = Math.max(0, ...other.map((a) => Math.abs(model.effect[a][f]![level]!)))
      if (control.channel !== 'green' && Math.abs(share) > NOTHING && stray > 0.45 * Math.abs(effect))
        out.push({
          control: control.key,
          kind: 'coupled',
          sentence: `${quoted(control)} affects another channel as well. Compensated.`,
        })
    }
  return out
}

/** Readings of one level with nothing else different that moves a channel, by the value of a control, the nearest to where it came first. */
const seriesOf = (
  model: GreyModel,
  control: NumberControl,
  aspect: Aspect,
  among: (level: number) => boolean = () => true,
): Array<Array<{ value: number; drive: number }>> => {
  const touches = (c: Control) =>
    c !== control && (c.channel === aspect || c.channel === 'green' || !c.channel)
  const others = model.features.map((f) => f.control).filter(touches)
  const groups = new Map<string, Array<{ value: number; drive: number }>>()
  for (const [i, o] of model.observations.entries()) {
    if (!among(o.level)) continue
    const key = [o.level, ...others.map((c) => o.state[c.key])].join()
    groups.set(key, [
      ...(groups.get(key) ?? []),
      { value: Number(o.state[control.key]), drive: model.drives[i]![aspect] / o.level },
    ])
  }
  const from = Number(model.reference[control.key])
  return [...groups.values()].map((list) =>
    list.sort((a, b) => Math.abs(a.value - from) - Math.abs(b.value - from)),
  )
}

/** Whether two readings that differ in a control alone differ by more than scatter. */
const didSomething = (model: GreyModel, control: NumberControl, aspect: Aspect): boolean =>
  seriesOf(model, control, aspect).some((list) =>
    list.some(
      (b) => b.value !== list[0]!.value && Math.abs(b.drive - list[0]!.drive) > 4 * CONTROL_FAULTS_SCATTER,
    ),
  )

/**
 * The value beyond which a control does nothing more: at one level, with nothing else different that moves the channel, two readings
 * that differ and a third further out that does not.
 */
const stopsAt = (model: GreyModel, control: NumberControl, aspect: Aspect): number | undefined => {
  for (const sorted of seriesOf(model, control, aspect))
    for (let i = 2; i < sorted.length; i++) {
      const [a, b, c] = [sorted[i - 2]!, sorted[i - 1]!, sorted[i]!]
      const [ab, bc] = [b.value - a.value, c.value - b.value]
      if (ab === 0 || bc === 0 || Math.sign(ab) !== Math.sign(bc)) continue
      const slope = (b.drive - a.drive) / ab
      const moved = Math.abs(b.drive - a.drive)
      const missing = Math.abs(slope * bc)
      if (
        moved > 4 * CONTROL_FAULTS_SCATTER &&
        missing > 4 * CONTROL_FAULTS_SCATTER &&
        Math.abs(c.drive - b.drive) < 0.25 * missing
      )
        return b.value
    }
  return undefined
}

/**
 * The level-by-level control that is faulty, by which supposition explains all readings best; one at a time, since one faulty control makes its
 * neighbours look faulty. Those that are known already stay so.
 */
const levelFaults = (
  byRole: ControlsByRole,
  model: GreyModel,
  known: ReadonlyMap<string, FaultKind>,
): ControlFault[] =>
  model.memo.recall('control-faults', model, `levels ${[...known].join()}`, () =>
    lookForLevels(byRole, model, known),
  )

const lookForLevels = (
  byRole: ControlsByRole,
  model: GreyModel,
  known: ReadonlyMap<string, FaultKind>,
): ControlFault[] => {
  const suspects = byRole.levelWhite.flatMap(({ control, level }) => {
    const f = featureOf(model, control.key)
    const aspect = control.channel
    const moved = model.observations.some((o) => o.state[control.key] !== model.reference[control.key])
    if (f < 0 || !moved || level < BRIGHT_ENOUGH || (aspect !== 'red' && aspect !== 'blue')) return []
    const fault = known.get(control.key)
    if (!fault && model.surprise(aspect, f) < SURPRISING) return []
    if (fault) return [{ control, fault, by: Number.POSITIVE_INFINITY }]
    return (['dead', 'reversed'] as const).map((supposed) => ({
      control,
      fault: supposed,
      by: model.betterIf(aspect, f, supposed),
    }))
  })
  const found = suspects.filter((s) => s.by === Number.POSITIVE_INFINITY)
  const worst = suspects.filter((s) => Number.isFinite(s.by)).sort((a, b) => b.by - a.by)[0]
  if (worst && worst.by > FAR_LIKELIER) found.push(worst)
  return found.map(({ control, fault }) => {
    const where = `${quoted(control)} at ${Math.round(1000 * (control.level ?? 0)) / 10} %`
    const shown = isShown(model, control, fault)
    const [verdict, consequence] =
      fault === 'reversed'
        ? [`works backwards: more of it gives less ${control.channel}`, 'Compensated.']
        : ['has no measurable effect', 'It is not used from here on.']
    return {
      control: control.key,
      kind: fault === 'reversed' ? ('backwards' as const) : ('nothing' as const),
      byLevel: true,
      ...(shown ? {} : { suspected: true }),
      sentence: shown
        ? `${where} ${verdict}. ${consequence}`
        : `The readings fit best if ${where} ${verdict}; it was never moved by itself, so this is not certain. ${consequence}`,
    }
  })
}

/** Whether two readings that differ in a level-by-level control alone, near its own level, show its fault. */
const isShown = (model: GreyModel, control: NumberControl, fault: FaultKind): boolean => {
  const { channel, level = 0 } = control
  if (channel !== 'red' && channel !== 'blue') return false
  return seriesOf(model, control, channel, (at) => Math.abs(at - level) < AT_ITS_LEVEL).some((list) =>
    list.some((b) => {
      const a = list[0]!
      const clicks = (b.value - a.value) / control.range.step
      const moved = (b.drive - a.drive) * Math.sign(clicks)
      return fault === 'reversed'
        ? moved < -4 * CONTROL_FAULTS_SCATTER
        : Math.abs(clicks) >= CLICKS_TO_SHOW && Math.abs(moved) < 2 * CONTROL_FAULTS_SCATTER
    }),
  )
}

/** The luminance control: two places far apart that give the same light. */
const lightFaults = (control: Control | undefined, curve: LuminanceCurve | undefined): ControlFault[] => {
  if (!control || !curve || curve.points.length < 2) return []
  const { min, max } = placesOf(control)
  const points = [...curve.points].sort((a, b) => a.place - b.place)
  const [low, high] = [points[0]!, points.at(-1)!]
  if (high.place - low.place < 0.1 * (max - min)) return []
  const share = high.luminance / low.luminance - 1
  if (Math.abs(share) < 0.015) return [nothing(control)]
  return share < 0
    ? [
        {
          control: control.key,
          kind: 'backwards',
          sentence: `${quoted(control)} works backwards: more of it gives less light. Compensated.`,
        },
      ]
    : []
}

/** Colour management: what controls that were moved did to their own muted colour against what such controls do. */
const colourFaults = ({ model, target, moved, most }: ColoursMoved): ControlFault[] =>
  model.controls.flatMap((c, q): ControlFault[] => {
    if (!c.colour || !moved.has(c.control.key)) return []
    const p = model.patches.findIndex((one) => isMuted(one, c.colour))
    if (p < 0) return []
    const usual = expectedResponse(c, lightOfPatch(model.patches[p]!, target), []).mean
    const size = Math.hypot(...usual)
    if (size === 0) return []
    const along = model.response[p]![q]!.reduce((s, v, i) => s + v * usual[i]!, 0) / size ** 2
    if ((most(c.control) / c.control.range.step) * size < 0.03) return []
    return Math.abs(along) < NOTHING ? [nothing(c.control)] : []
  })

/** What is known of colour management where it was moved. */
export interface ColoursMoved {
  readonly model: ColourModel
  readonly target: Target
  /** Keys of the controls that were moved. */
  readonly moved: ReadonlySet<string>
  /** How far a control ever stood from neutral while something was read. */
  readonly most: (control: NumberControl) => number
}

/**
 * What is wrong with controls that were moved, from the readings after they were: one that does nothing, works backwards, stops
 * half-way or affects another channel as well. The models allow for what was found; the reviewer is told.
 * In: controls; luminance by its control; model of greys; colours, where colour management was looked at; level-by-level controls whose
 * fault the model allows for already.
 */
export const controlFaults = (
  byRole: ControlsByRole,
  models: {
    readonly light?: LuminanceCurve
    readonly grey?: GreyModel
    readonly colours?: ColoursMoved
    readonly known: ReadonlyMap<string, FaultKind>
  },
): ControlFault[] => [
  ...lightFaults(byRole.light, models.light),
  ...(models.grey ? pairFaults(byRole, models.grey) : []),
  ...(models.grey ? levelFaults(byRole, models.grey, models.known) : []),
  ...(models.colours ? colourFaults(models.colours) : []),
]
