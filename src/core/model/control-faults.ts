import { type Channel, type Control, menuLevelOf, type NumberControl } from '#core/display'
import { isMuted } from '#core/measure'
import type { Target } from '#core/target'
import type { Aspect } from './aspect'
import { type ColourModel, lightOfPatch } from './colour-model'
import { expectedResponse } from './colour-response'
import {
  type AloneVerdict,
  type Evidence,
  type MovedAlone,
  pairsAlone,
  seriesAlone,
  verdictAlone,
} from './control-alone'
import { type ControlsByRole, placesOf, quoted, reachOf } from './controls-by-role'
import type { FaultKind } from './fault'
import { featureOf, type GreyModel } from './grey-model'
import { placeIn, responseOf } from './level-pages'
import type { LuminanceCurve } from './luminance-curve'
import {
  AT_ITS_LEVEL,
  BRIGHT_ENOUGH,
  CONTROL_FAULTS_USUAL,
  COUPLED,
  FAR_LIKELIER,
  HALF_WAY,
  IN_PLACE,
  NOTHING,
  RUNS_OUT,
  STOPS,
  SURPRISING,
  TELLING_CHANGE,
  TELLING_LEVEL,
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
  /** Readings fit better so, but it was not tried by itself: nothing is built on it. */
  readonly suspected?: boolean
  /** How trying it by itself tells most: level to read, signal 0…1, clicks to move, and whether away from neutral rather than back to it. */
  readonly alone?: { readonly level: number; readonly clicks: number; readonly outward: boolean }
}

const percent = (level: number) => `${Math.round(1000 * level) / 10} %`

/** The readings that a verdict rests on, for the reviewer. */
const sayPair = ({ level, from, to }: MovedAlone): string =>
  `moved on its own from ${from} to ${to}, read at ${percent(level)}`

/** A control as it is named in a sentence, with its level where it has one. */
const named = (control: Control): string => {
  const level = menuLevelOf(control)
  return level === undefined ? quoted(control) : `${quoted(control)} at ${percent(level)}`
}

const nothing = (control: Control, pair?: MovedAlone): ControlFault => ({
  control: control.key,
  kind: 'nothing',
  sentence: `${named(control)} has no measurable effect${pair ? ` (${sayPair(pair)})` : ''}: it is not used from here on.`,
})

const backwards = (control: Control, pair: MovedAlone): ControlFault => ({
  control: control.key,
  kind: 'backwards',
  sentence: `${named(control)} works backwards: more of it gives less ${control.channel} (${sayPair(pair)}). Compensated.`,
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

/** Gains and cuts: what they did by themselves; a suspicion where only the model says so. */
const pairFaults = (byRole: ControlsByRole, evidence: Evidence): ControlFault[] =>
  (['gain', 'cut'] as const).flatMap((pair) =>
    Object.values(byRole[pair]).flatMap((control) => faultsOfPair(evidence, pair, control)),
  )

const faultsOfPair = (evidence: Evidence, pair: 'gain' | 'cut', control: NumberControl): ControlFault[] => {
  const { model } = evidence
  const f = featureOf(model, control.key)
  const own = ownAspects(control)
  const moved = model.observations.filter((o) => o.state[control.key] !== model.reference[control.key])
  if (f < 0 || moved.length < 2 || own.length === 0) return []
  const sign = control.channel === 'green' ? -1 : 1
  const perClick = CONTROL_FAULTS_USUAL[pair] / reachOf(control)
  const usual = (level: number) => sign * (pair === 'gain' ? perClick : (perClick * (1 - level)) / level)
  const verdicts = own.flatMap((aspect) => verdictAlone(pairsAlone(evidence, control, aspect), usual) ?? [])
  const shown = (verdict: AloneVerdict) => verdicts.find((v) => v.verdict === verdict)
  const out: ControlFault[] = []
  const works = shown('works')
  const dead = works ? undefined : shown('dead')
  // Away from where it came from it may do nothing and still work near it.
  const stops = stopsAt(evidence, control, own[0]!) ?? (dead && farSide(control, dead.pair))
  if (stops !== undefined)
    out.push({
      control: control.key,
      kind: 'stops',
      at: stops,
      sentence: `${quoted(control)} has no further effect beyond ${stops}: adjustments stay on this side of it.`,
    })
  else if (dead) out.push(nothing(control, dead.pair))
  else if (!works && shown('backwards')) out.push(backwards(control, shown('backwards')!.pair))
  else if (!works) {
    const at = model.levels.indexOf(TELLING_LEVEL[pair])
    const clicks = Math.max(
      ...moved.map(
        (o) =>
          Math.abs(Number(o.state[control.key]) - Number(model.reference[control.key])) / control.range.step,
      ),
    )
    const effect = own.reduce((s, a) => s + sign * (model.effect[a][f]?.[at] ?? 0), 0) / own.length
    const share = (effect * reachOf(control)) / CONTROL_FAULTS_USUAL[pair]
    // A click or two may hide in the scatter.
    if (at >= 0 && share < NOTHING && clicks * perClick > 0.004) {
      const level = TELLING_LEVEL[pair]
      out.push(suspicion(control, share < -NOTHING ? 'reversed' : 'dead', level, usual(level)))
    }
  }
  // Half of what is usual, on the way back to neutral, may be all of it up to a place where it stops.
  if (works && stops === undefined && works.share < HALF_WAY && isBackToNeutral(control, works.pair)) {
    const level = TELLING_LEVEL[pair]
    out.push(suspicion(control, 'stops', level, usual(level)))
  }
  const coupled = works && coupledBy(evidence, control, works.pair)
  if (coupled) out.push(coupled)
  return out
}

/** Whether a pair goes from some value to neutral. */
const isBackToNeutral = (control: NumberControl, { from, to }: MovedAlone): boolean => {
  const neutral = control.neutral ?? control.default
  return from === neutral || to === neutral
}

/** The end of a pair that lies nearer to a control's neutral value, where the pair does not hold it. */
const farSide = (control: NumberControl, { from, to }: MovedAlone): number | undefined => {
  const neutral = control.neutral ?? control.default
  return from > neutral ? from : to < neutral ? to : undefined
}

/** What is suspected of a control, as long as it was not tried by itself. */
const suspicion = (
  control: NumberControl,
  fault: FaultKind | 'stops',
  level: number,
  perClick: number,
): ControlFault => {
  const verdict = {
    reversed: `works backwards: more of it gives less ${control.channel}`,
    dead: 'has no measurable effect',
    stops: 'has no further effect beyond some value',
  }[fault]
  return {
    control: control.key,
    kind: ({ reversed: 'backwards', dead: 'nothing', stops: 'stops' } as const)[fault],
    ...(control.level === undefined ? {} : { byLevel: true }),
    suspected: true,
    alone: {
      level,
      clicks: Math.max(6, Math.ceil(TELLING_CHANGE / Math.max(1e-6, Math.abs(perClick)))),
      outward: fault === 'stops',
    },
    sentence: `The readings fit best if ${named(control)} ${verdict}; it was never moved on its own, so this is not certain.`,
  }
}

/** Whether a red or blue control, moved by itself, moved the other one as well. */
const coupledBy = (evidence: Evidence, control: NumberControl, own: MovedAlone): ControlFault | undefined => {
  const other = control.channel === 'red' ? 'blue' : control.channel === 'blue' ? 'red' : undefined
  if (!other) return undefined
  const pair = pairsAlone(evidence, control, other, (level) => level === own.level).find(
    (p) => p.from === own.from && p.to === own.to,
  )
  const strays =
    pair &&
    Math.abs(pair.moved) > COUPLED.share * Math.abs(own.moved) &&
    Math.abs(pair.moved) > COUPLED.sure * pair.sigma
  return strays
    ? {
        control: control.key,
        kind: 'coupled',
        sentence: `${quoted(control)} affects ${other} as well (${sayPair(pair)}). Compensated.`,
      }
    : undefined
}

/**
 * The value beyond which a control does nothing more: at one level, with nothing else different that moves the channel, two readings
 * that differ and a third further out that does not.
 */
const stopsAt = (evidence: Evidence, control: NumberControl, aspect: Aspect): number | undefined => {
  const from = Number(evidence.model.reference[control.key])
  for (const { shown } of seriesAlone(evidence, control, aspect)) {
    const sorted = [...shown].sort((a, b) => Math.abs(a.value - from) - Math.abs(b.value - from))
    for (let i = 2; i < sorted.length; i++) {
      const [a, b, c] = [sorted[i - 2]!, sorted[i - 1]!, sorted[i]!]
      const [ab, bc] = [b.value - a.value, c.value - b.value]
      if (ab === 0 || bc === 0 || Math.sign(ab) !== Math.sign(bc)) continue
      const missing = Math.abs(((b.drive - a.drive) / ab) * bc)
      const sigma = Math.hypot(b.sigma, c.sigma)
      if (
        Math.abs(b.drive - a.drive) > STOPS * Math.hypot(a.sigma, b.sigma) &&
        missing > STOPS * sigma &&
        Math.abs(c.drive - b.drive) < 0.25 * missing
      )
        return b.value
    }
  }
  return undefined
}

/**
 * Level-by-level controls that did nothing or the opposite by themselves, and the one under suspicion: by which supposition all readings are
 * explained best; one at a time, since one faulty control makes its neighbours look faulty. One that is known is not suspected again.
 */
const levelFaults = (
  byRole: ControlsByRole,
  evidence: Evidence,
  known: ReadonlyMap<string, FaultKind>,
): ControlFault[] => {
  const { model } = evidence
  const certain: ControlFault[] = []
  const suspects: Array<{ by: number; fault: () => ControlFault }> = []
  for (const { control, level, channel } of byRole.levelWhite) {
    const f = featureOf(model, control.key)
    const moved = model.observations.some((o) => o.state[control.key] !== model.reference[control.key])
    // Near white a channel may have run out of drive, which is no fault of the control.
    if (f < 0 || !moved || level > RUNS_OUT || level < BRIGHT_ENOUGH) continue
    const levels = byRole.levelWhite.flatMap((c) => (c.channel === channel ? [c.level] : []))
    const response = responseOf(model.levelShape, channel, level, levels)
    const strength = Math.abs(model.levelShape.strength[channel].mean)
    const sign = channel === 'green' ? -1 : 1
    const usual = (at: number) => (sign * strength * response(at)) / at
    const aspects = ownAspects(control)
    const near = (at: number) => Math.abs(at - level) < AT_ITS_LEVEL
    const verdicts = aspects.flatMap(
      (aspect) => verdictAlone(pairsAlone(evidence, control, aspect, near), usual) ?? [],
    )
    const shown = (verdict: AloneVerdict) => verdicts.find((v) => v.verdict === verdict)
    if (shown('works')) continue
    // Where the channel was driven away from the label, the control acts on another signal than the one that was read.
    const dead = isInPlace(model, channel, level, levels) ? shown('dead') : undefined
    const turned = shown('backwards')
    if (dead) certain.push({ ...nothing(control, dead.pair), byLevel: true })
    else if (turned) certain.push({ ...backwards(control, turned.pair), byLevel: true })
    else if (!known.has(control.key))
      for (const aspect of aspects)
        if (model.surprise(aspect, f) >= SURPRISING)
          for (const fault of ['dead', 'reversed'] as const)
            suspects.push({
              by: model.betterIf(aspect, f, fault),
              fault: () => suspicion(control, fault, level, usual(level)),
            })
  }
  const worst = suspects.sort((a, b) => b.by - a.by)[0]
  return worst && worst.by > FAR_LIKELIER ? [...certain, worst.fault()] : certain
}

/**
 * Whether a signal of a level meets the control that is labelled with it, wherever in the chain the controls act: gains may have moved the
 * channel to where a neighbour's control is.
 */
const isInPlace = ({ levelShape }: GreyModel, channel: Channel, level: number, levels: readonly number[]) => {
  const i = levels.indexOf(level)
  const spacing = Math.min(level - (levels[i - 1] ?? 0), (levels[i + 1] ?? Number.POSITIVE_INFINITY) - level)
  return [0, 1].every(
    (follows) => Math.abs(placeIn({ ...levelShape, follows }, channel, level) - level) < IN_PLACE * spacing,
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
          sentence: `${named(control)} works backwards: more of it gives less light. Compensated.`,
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
    const along = model.response[p]![q]!.up.reduce((s, v, i) => s + v * usual[i]!, 0) / size ** 2
    if ((most(c.control) / c.control.range.step) * size < 0.03) return []
    // Colour management is never moved one control at a time: what the model says of one is a suspicion.
    return Math.abs(along) < NOTHING
      ? [
          {
            control: c.control.key,
            kind: 'nothing',
            suspected: true,
            sentence: `The readings fit best if ${quoted(c.control)} has no measurable effect; it was never moved on its own, so this is not certain.`,
          },
        ]
      : []
  })

/** Faults of gains, cuts and level-by-level controls, looked for once for each model. */
const faultsOfGreys = (
  byRole: ControlsByRole,
  evidence: Evidence,
  known: ReadonlyMap<string, FaultKind>,
): ControlFault[] =>
  evidence.model.memo.recall(
    'control-faults',
    evidence.model,
    `${evidence.observations.length} ${evidence.observations.at(-1)?.id} ${[...known].join()}`,
    () => [...pairFaults(byRole, evidence), ...levelFaults(byRole, evidence, known)],
  )

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
 * What is wrong with controls that were moved, from readings of them by themselves: one that does nothing, works backwards, stops
 * half-way or affects another channel as well. The models allow for what was found; the reviewer is told. What only the model says is a
 * suspicion, until the control was tried alone.
 * In: controls; luminance by its control; model of greys and the readings that tell of its controls; colours, where colour management was looked at; level-by-level controls whose
 * fault the model allows for already.
 */
export const controlFaults = (
  byRole: ControlsByRole,
  models: {
    readonly light?: LuminanceCurve
    readonly grey?: Evidence
    readonly colours?: ColoursMoved
    readonly known: ReadonlyMap<string, FaultKind>
  },
): ControlFault[] => [
  ...lightFaults(byRole.light, models.light),
  ...(models.grey ? faultsOfGreys(byRole, models.grey, models.known) : []),
  ...(models.colours ? colourFaults(models.colours) : []),
]
