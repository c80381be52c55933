import {
  type Control,
  type ControlValue,
  changesBetween,
  factoryValue,
  ROLE_TERM,
  type Role,
  rolesWhere,
  STRENGTHS,
  type State,
} from '#core/display'
import { toldApart } from '#core/judge'
import { isOffered, type Patch, SDR_STILL } from '#core/measure'
import { quoted, shown } from '#core/model'
import { signalKind } from '#core/signal'
import { defineStep, done, type Limit, type Next, open, type StepPlan, type TourStop } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import { type CaseOf, differsIn, type RouteFacts, type RouteReading } from '../facts/facts'
import type { TradeOffRow, TradeOffs } from '../facts/findings-games'
import { CURVE } from '../rests-on'
import { BOARD_BLACK, BOARD_WHITE } from '../screen/dimming'
import { INSERTS_BLACK, MOST_HELPER_VALUES, MOST_TOURED } from '../tuning'
import { optionsNotMeasured, optionsWander, priceNotMeasured } from './say'

/** What it rests on. */
const OPTIONS: readonly Role[] = [...CURVE, 'peak-luminance']

/** Of a projector: the iris, which older sheets name as dimming, and the light source. */
const OF_PROJECTOR: readonly Role[] = [...STRENGTHS, 'peak-luminance']

const PROJECTOR_TERM: Readonly<Partial<Record<Role, string>>> = {
  dimming: 'Iris, or dimming of the light source',
  'peak-luminance': 'Light source level',
}

/** Controls whose price is measured in a case; none in most. */
const optionsOf = ({ viewingCase, panelKind, sheet }: CaseOf): readonly Control[] => {
  const games = viewingCase === 'sdr-game' || viewingCase === 'hdr-game'
  const roles = new Set<Role>([
    ...rolesWhere(
      (r) => (r.tried === 'games' && games) || (r.tried === 'desktop' && viewingCase === 'desktop'),
    ),
    ...(panelKind === 'projector' ? OF_PROJECTOR : []),
  ])
  return sheet.controls.filter((c) => roles.has(c.role))
}

/** Where a control does nothing; of an iris and a light source, where it stands. */
const restOf = ({ state, baseMode, signal }: RouteFacts, control: Control): ControlValue =>
  OF_PROJECTOR.includes(control.role)
    ? state[control.key]!
    : (control.neutral ?? factoryValue(control, baseMode ?? undefined, signalKind(signal)))

/** Values that are tried: of a choice each, of a number one step, half and all of its reach. */
const valuesOf = (control: Control, rest: ControlValue): ControlValue[] => {
  if (control.kind === 'choice')
    return control.choices
      .map((c) => c.value)
      .filter((v) => v !== rest)
      .slice(0, MOST_HELPER_VALUES)
  const { min, max, step } = control.range
  const from = Number(rest)
  if (OF_PROJECTOR.includes(control.role))
    return [min, min + step * Math.round((max - min) / 2 / step), max].filter((v) => v !== from)
  const end = max > from ? max : min
  const way = Math.sign(end - from) * step
  const half = from + step * Math.round((end - from) / 2 / step)
  return [...new Set([from + way, half, end])].filter((v) => v !== from)
}

const firstSteps = ({ scale, patches }: RouteContext) => scale.firstSteps(patches)
const lastSteps = ({ scale, patches }: RouteContext) => scale.lastSteps(patches)
/** The step that stands for those near an end. */
const nearOf = (context: RouteContext, role: Role): Patch | undefined =>
  role === 'shadow-lift' ? firstSteps(context).at(NEAR.first) : lastSteps(context).at(NEAR.last)
const NEAR = { first: 4, last: 2 } as const
const middleOf = ({ scale, patches }: RouteContext) => scale.middle(patches)
const whiteOf = ({ scale, patches }: RouteContext) => scale.brightest(patches)

/** What is read in each value of a control. */
const readsOf = (context: RouteContext, { role }: Control): readonly Patch[] => {
  const { black } = context.patches
  switch (role) {
    // Where a person reads the meter, one step stands for those near an end.
    case 'shadow-lift':
      return context.facts.typed
        ? [black, nearOf(context, role)!, middleOf(context)]
        : [black, ...firstSteps(context), middleOf(context)]
    case 'highlight-lift':
      return context.facts.typed
        ? [middleOf(context), nearOf(context, role)!]
        : [middleOf(context), ...lastSteps(context)]
    case 'panel-care':
      return [context.scale.still]
    case 'motion':
    case 'black-frames':
      return [middleOf(context), whiteOf(context)]
    default:
      return [black, BOARD_WHITE, BOARD_BLACK, whiteOf(context)]
  }
}

/** The newest readings in a value of a control, all else as now but for what hardly moves what is read. */
const readIn = (
  { facts }: RouteContext,
  control: Control,
  value: ControlValue,
): Map<string, RouteReading> => {
  const own = new Set([control.key])
  const others = optionsOf(facts).filter((c) => c !== control)
  const out = new Map<string, RouteReading>()
  for (const r of facts.toured ?? [])
    if (
      r.state[control.key] === value &&
      others.every((c) => r.state[c.key] === facts.state[c.key]) &&
      differsIn(facts, OPTIONS, r.state, facts.state, own).length === 0
    )
      out.set(r.patch.key, r)
  return out
}

const wanted = (context: RouteContext, control: Control): readonly Patch[] =>
  readsOf(context, control).filter(
    (p) => isOffered(p, context.facts.bench) && !context.facts.leftOut.includes(p.key),
  )

/** Of steps in a row, how many differ visibly from what lies before them. */
const stepsApart = (lights: readonly number[]): number =>
  lights.filter((light, i) => i > 0 && toldApart(light, lights[i - 1]!)).length

const share = (part: number) => `${(100 * Math.abs(part)).toFixed(Math.abs(part) < 0.095 ? 1 : 0)} %`
const inLight = (n: number) => `${n.toFixed(n < 10 ? 2 : 0)} cd/m²`
const brighter = (part: number, what: string) =>
  Math.abs(part) < 0.01
    ? `${what} stays as it is`
    : `${what} becomes ${share(part)} ${part > 0 ? 'brighter' : 'darker'}`

/** What a value does against rest, in words. */
const sentenceOf = (
  control: Control,
  value: ControlValue,
  own: TradeOffRow,
  rest: TradeOffRow,
  of: number,
  near: string,
): string => {
  const name = `${quoted(control)} ${shown(control, value)}`
  switch (control.role) {
    case 'shadow-lift':
    case 'highlight-lift': {
      const where = control.role === 'shadow-lift' ? 'first' : 'last'
      const more = (own.steps ?? 0) - (rest.steps ?? 0)
      const steps =
        own.steps === undefined
          ? ''
          : `; ${more === 0 ? 'no more' : `${Math.abs(more)} ${more > 0 ? 'more' : 'fewer'}`} of the ${where} ${of} steps are told apart`
      const end = rest.near && own.near !== undefined ? brighter(own.near / rest.near - 1, near) : ''
      const middle =
        rest.middle && own.middle !== undefined
          ? `; ${brighter(own.middle / rest.middle - 1, 'the middle')}`
          : ''
      const black =
        rest.black !== undefined && own.black !== undefined && toldApart(own.black, rest.black)
          ? `; black goes from ${rest.black.toFixed(3)} to ${own.black.toFixed(3)} cd/m²`
          : ''
      return `${name}: ${end}${steps}${middle}${black}.`
    }
    case 'panel-care':
      if (own.luminance > 0.99 * rest.luminance)
        return `${name} takes nothing of a picture that stands still for ${SDR_STILL.timing!.stands / 60} minutes.`
      return `${name} takes ${share(1 - own.luminance / rest.luminance)} of a picture that stands still for ${SDR_STILL.timing!.stands / 60} minutes (${inLight(rest.luminance)} → ${inLight(own.luminance)}).`
    case 'motion':
    case 'black-frames': {
      const lost = 1 - own.luminance / rest.luminance
      if (lost < 0.01) return `${name} takes none of the light.`
      const flickers = control.role === 'black-frames' || lost > INSERTS_BLACK
      return `${name} takes ${share(lost)} of the light (${inLight(rest.luminance)} → ${inLight(own.luminance)})${flickers ? ', and the picture flickers' : ''}.`
    }
    default:
      return `${name}: ${inLight(own.luminance)}${own.onOff ? `, ${Math.round(own.onOff)}:1 on and off` : ''}${own.board ? `, ${Math.round(own.board)}:1 in a checkerboard` : ''}.`
  }
}

const rowOf = (
  context: RouteContext,
  control: Control,
  value: ControlValue,
  rest: ControlValue,
): TradeOffRow => {
  const read = readIn(context, control, value)
  const light = (p: Patch) => {
    const y = read.get(p.key)?.xyz[1]
    return y === undefined ? undefined : Math.max(0, y)
  }
  const lights = (patches: readonly Patch[]) => patches.flatMap((p) => light(p) ?? [])
  const { black: blackPatch } = context.patches
  const black = light(blackPatch)
  const patches = readsOf(context, control)
  const luminance = light(patches.at(-1)!) ?? 0
  const [boardWhite, boardBlack] = [light(BOARD_WHITE), light(BOARD_BLACK)]
  const over = (a: number | undefined, b: number | undefined) =>
    a === undefined || b === undefined ? undefined : a / Math.max(b, 1e-4)
  return {
    value,
    label: shown(control, value),
    rest: value === rest,
    luminance,
    ...(black === undefined ? {} : { black }),
    ...(control.role === 'shadow-lift'
      ? {
          ...(context.facts.typed ? {} : { steps: stepsApart([black ?? 0, ...lights(firstSteps(context))]) }),
          middle: light(middleOf(context)),
          near: light(nearOf(context, control.role)!),
        }
      : {}),
    ...(control.role === 'highlight-lift'
      ? {
          ...(context.facts.typed ? {} : { steps: stepsApart(lights(lastSteps(context))) }),
          middle: light(middleOf(context)),
          near: light(nearOf(context, control.role)!),
        }
      : {}),
    ...(OF_PROJECTOR.includes(control.role)
      ? { onOff: over(luminance, black), board: over(boardWhite, boardBlack) }
      : {}),
    readingIds: [...read.values()].map((r) => r.id),
  }
}

const CAUTION =
  'Black frames flicker, which can hurt photosensitive people and tires many others: they stay off unless the player asks for them.'

/** Values of all controls of which something was not read yet, one after the other, and the way back. */
const tourOf = (context: StepContext, controls: readonly Control[]): Extract<Next, { kind: 'tour' }> => {
  const { facts } = context
  const kind = signalKind(facts.signal)
  let stands: State = facts.state
  const stops: TourStop[] = []
  for (const control of controls) {
    const rest = restOf(facts, control)
    const patches = wanted(context, control)
    for (const value of [rest, ...valuesOf(control, rest)]) {
      const read = readIn(context, control, value)
      const reads = patches.filter((p) => !read.has(p.key))
      if (reads.length === 0) continue
      const to: State = { ...facts.state, [control.key]: value }
      stops.push({ changes: changesBetween(facts.sheet, stands, to, kind), reads, probes: [] })
      stands = to
    }
  }
  return {
    kind: 'tour',
    title: 'What each option does to the picture',
    stops,
    back: changesBetween(facts.sheet, stands, facts.state, kind),
  }
}

/** What one option does at each of its values; undefined where the light at rest is not known, with which nothing can be compared. */
const findingsOf = (context: StepContext, control: Control): TradeOffs | undefined => {
  const rest = restOf(context.facts, control)
  const all = [rest, ...valuesOf(control, rest)].map((v) => rowOf(context, control, v, rest))
  const base = all[0]!
  const rows = all.filter((r) => r.luminance > 0)
  if (base.readingIds.length === 0 || base.luminance === 0) return undefined
  const ofProjector = OF_PROJECTOR.includes(control.role)
  const inserts =
    control.role === 'black-frames' ||
    (control.role === 'motion' && rows.some((r) => r.luminance < (1 - INSERTS_BLACK) * base.luminance))
  const isHigh = control.role === 'highlight-lift'
  const read = (control.role === 'shadow-lift' ? firstSteps(context) : lastSteps(context)).length
  // The first of the highest steps only tells the next one apart.
  const steps = isHigh ? read - 1 : read
  const near = nearOf(context, control.role)?.label ?? ''
  return {
    control: control.key,
    label: control.label,
    term: (ofProjector && PROJECTOR_TERM[control.role]) || ROLE_TERM[control.role],
    rows: rows.toSorted((a, b) =>
      typeof a.value === 'number' && typeof b.value === 'number' ? a.value - b.value : 0,
    ),
    steps: base.steps === undefined ? 0 : steps,
    sentences: [
      ...rows.slice(ofProjector ? 0 : 1).map((row) => sentenceOf(control, row.value, row, base, steps, near)),
      ...(inserts ? [CAUTION] : []),
    ],
    ...(base.near === undefined ? {} : { near }),
  }
}

/** What each option does to the picture at each of its values, the display left as it was: games, desktops and projectors. */
const planTradeOffs = (context: StepContext): StepPlan => {
  const { facts } = context
  const present = optionsOf(facts).filter((c) => facts.state[c.key] !== undefined)
  const controls = present.filter((c) => context.movable(c))
  const limits: Limit[] = present
    .filter((c) => !context.movable(c))
    .map((control) => priceNotMeasured({ control }))
  const tour = tourOf(context, controls)
  const { toured = [] } = facts
  const begun = controls.some((c) => toured.some((r) => r.state[c.key] !== restOf(facts, c)))
  // A case that was verified before this was asked of any is not opened again for it.
  if (tour.stops.length && !begun && facts.readings.some((r) => r.purpose === 'verify'))
    return done('not measured', {
      limits: [...limits, optionsNotMeasured],
    })
  const endless = toured.length > MOST_TOURED
  if (tour.stops.length && !endless) return open(tour)
  const tradeOffs = controls.flatMap((c) => findingsOf(context, c) ?? [])
  const byMode = facts.panelKind === 'projector' ? modesOf(context) : []
  return done(tradeOffs.length ? `${tradeOffs.length} measured` : '', {
    findings: { tradeOffs: [...byMode, ...tradeOffs] },
    limits: tour.stops.length ? [...limits, optionsWander] : limits,
  })
}

/** Luminance and contrast of each picture mode of a projector, as the survey read them. */
const modesOf = ({ facts, scale, byRole, patches }: StepContext): TradeOffs[] => {
  const { mode } = byRole
  if (mode?.kind !== 'choice') return []
  const white = scale.brightest(patches).key
  const rows = mode.choices.flatMap(({ value, label }): TradeOffRow[] => {
    const light = (key: string) =>
      facts.readings.findLast(
        (r) => r.purpose === 'survey' && r.patch.key === key && r.state[mode.key] === value,
      )
    const [own, black] = [light(white), light(patches.black.key)]
    if (!own || !black) return []
    return [
      {
        value,
        label,
        rest: value === facts.baseMode,
        luminance: own.xyz[1],
        black: Math.max(0, black.xyz[1]),
        onOff: own.xyz[1] / Math.max(black.xyz[1], 1e-4),
        readingIds: [own.id, black.id],
      },
    ]
  })
  if (rows.length < 2) return []
  return [
    {
      control: mode.key,
      label: mode.label,
      term: `${ROLE_TERM['picture-mode']}, out of the box`,
      rows,
      steps: 0,
      sentences: rows.map(
        (r) =>
          `${quoted(mode)} ${r.label}, out of the box: ${inLight(r.luminance)}, ${Math.round(r.onOff!)}:1 on and off.`,
      ),
    },
  ]
}

export const tradeOffs = defineStep({
  key: 'helpers',
  title: 'Options and trade-offs',
  restsOn: OPTIONS,
  cases: (of) => optionsOf(of).length > 0,
  finds: ['tradeOffs'],
  measures: true,
  plan: planTradeOffs,
})
