import type { ChoiceControl, ControlValue, Role } from '#core/display'
import { followsScene, type Mapping } from '#core/hdr'
import { isOffered, type Patch, PQ_PEAK, pqTargetOf, SCENE_LUMINANCES, scenePatches } from '#core/measure'
import { quoted, shown } from '#core/model'
import { adjust, defineStep, done, hdrCases, open, type StepPlan } from '../contract'
import type { StepContext } from '../facts/context'
import { type ByPatch, type Choice, changeTo, eachValue } from '../facts/each-value'
import { differsIn, type RouteFacts, type RouteReading } from '../facts/facts'
import type { MappingOption } from '../facts/findings-hdr'
import { casePeakOf, mappingGreys } from '../facts/hdr-reference'
import { sayLuminance, sayPercent } from '../facts/say-figures'
import { EVERYTHING } from '../rests-on'
import { LIGHT_EXACT, MAPPING_FLAT, MAPPING_FOLLOWS, STOPS_WORSE } from '../tuning'
import { mappingNotRead, noSuchMapping } from './say'

/** What it rests on. */
const MAPPING: readonly Role[] = [...EVERYTHING, 'peak-luminance']

/** The value of the tone mapping control that the reviewer chose; undefined before, and where it is asked anew. */
const chosenMapping = (
  { accepted }: Pick<RouteFacts, 'accepted'>,
  options: readonly MappingOption[],
): MappingOption | undefined => options.find((o) => accepted.includes(`mapping=${o.value}`))

/** What a value of the tone mapping control costs and gives, in a sentence with its numbers. */
export const priceOfMapping = ({
  mapping,
  middle,
  dims,
  light = 1,
  peak,
  detailTo,
  moves,
  curve,
}: MappingOption): string => {
  const at = (place: number) => sayLuminance(curve[place]?.target ?? 0)
  const off = (share: number) =>
    Math.abs(share) < 0.01 ? 'exact' : `${sayPercent(share)} too ${share > 0 ? 'dim' : 'bright'}`
  const all = Math.abs(light - 1) < LIGHT_EXACT ? '' : ` Greys of ${at(0)} are ${off(1 - light)}.`
  if (mapping === 'clip' && all) return `Clips highlights at ${sayLuminance(peak)}.${all}`
  if (mapping === 'clip')
    return `Clips highlights: exact up to ${sayLuminance(peak)}; detail above it is lost. Give the source a peak of ${sayLuminance(peak)} where it asks for one.`
  if (mapping === 'roll-off')
    return `Rolls highlights off: keeps detail up to ${sayLuminance(detailTo)}${detailTo > 1.05 * peak ? ' and beyond' : ''}.${all || ` For it greys of ${at(1)} are ${off(middle)}, those of ${at(2)} ${off(dims)}.`}`
  return `Follows the scene: a grey of ${SCENE_LUMINANCES[1]} cd/m² moves by ${sayPercent(moves ?? 0)} with what else is shown${all ? '' : `, those of ${at(2)} are ${off(dims)}`}. Never exact.${all}`
}

const NAME: Readonly<Record<Mapping, string>> = {
  clip: 'clips',
  'roll-off': 'rolls off',
  dynamic: 'follows the scene',
}

/** Where tone mapping is nobody's to set: how far greys follow PQ, which is as far as white is balanced. */
const howFarItFollows = ({ facts }: StepContext, greys: readonly Patch[], note: string): StepPlan => {
  const unread = greys.filter(
    (g) =>
      !facts.leftOut.includes(g.key) &&
      !facts.readings.some((r) => r.patch.key === g.key && r.purpose === 'adjust'),
  )
  return unread.length === 0
    ? done(note)
    : adjust({
        changes: [],
        reads: unread,
        purpose: 'Measures how far greys follow PQ below the peak.',
      })
}

/** Patches that a value of the control is judged by. */
interface Patches {
  readonly greys: ReturnType<typeof mappingGreys>
  /** A grey alone, in a lit surround, and beside a highlight where the source can show one. */
  readonly scene: Scene | undefined
}
interface Scene {
  readonly alone: Patch
  readonly lit?: Patch
  readonly surrounded: Patch
}
const sceneOf = (scene: Scene | undefined): Patch[] =>
  scene ? [scene.alone, ...(scene.lit ? [scene.lit] : []), scene.surrounded] : []

/** What a value does, from what was read of it. Against a grey that no mapping reaches, so that a display that is scaled all over is not taken for one that rolls off. */
const mappingAt = (
  facts: RouteFacts,
  { greys, scene }: Patches,
  { value, label }: Choice,
  read: ByPatch,
): MappingOption => {
  const [low, middle, below, above, far] = greys
  const lightOf = (patch: Patch) => read.get(patch.key)!.xyz[1]
  const share = (patch: Patch) => lightOf(patch) / pqTargetOf(patch, facts.signal)
  const dims = 1 - share(below) / share(low)
  const rises = lightOf(far) / lightOf(above) - 1
  const movedBy = (patch: Patch | undefined) =>
    patch && scene ? Math.abs(lightOf(patch) / lightOf(scene.alone) - 1) : 0
  const [lit, surrounded] = [movedBy(scene?.lit), movedBy(scene?.surrounded)]
  const moves = scene ? Math.max(lit, surrounded) : undefined
  const dynamic = followsScene(lit) || followsScene(surrounded, true)
  const follows = Math.abs(dims) < MAPPING_FOLLOWS && rises < MAPPING_FLAT
  const curve = greys.map((patch) => ({
    target: pqTargetOf(patch, facts.signal),
    luminance: lightOf(patch),
    id: read.get(patch.key)!.id,
  }))
  return {
    value,
    label,
    mapping: dynamic ? 'dynamic' : follows ? 'clip' : 'roll-off',
    middle: 1 - share(middle) / share(low),
    dims,
    light: share(low),
    peak: lightOf(far),
    detailTo: rises < MAPPING_FLAT ? lightOf(far) : curve.at(-1)!.target,
    curve,
    moves,
    readingIds: [...greys, ...sceneOf(scene)].map((p) => read.get(p.key)!.id),
  }
}

/** The first readings of a value: what the white level was tried with later is another picture. */
const firstReadAt = (facts: RouteFacts, control: ChoiceControl, value: ControlValue): ByPatch => {
  const own = new Map<string, RouteReading>()
  for (const r of facts.readings)
    if (
      r.purpose === 'adjust' &&
      r.state[control.key] === value &&
      differsIn(facts, MAPPING, r.state, facts.state).length === 0 &&
      !own.has(r.patch.key)
    )
      own.set(r.patch.key, r)
  return own
}

/** Takes the school that the policy asks for where the display has it; where it has several, the reviewer says which. */
const chooseSchool = (
  facts: RouteFacts,
  control: ChoiceControl,
  options: readonly MappingOption[],
): StepPlan => {
  const now = facts.state[control.key]!
  const wanted = facts.policy.hdrToneMapping
  const order: readonly Mapping[] = [wanted, 'clip', 'roll-off', 'dynamic']
  const kinds = [...new Set(options.map((o) => o.mapping))]
  const answer = chosenMapping(facts, options)
  // Light comes before the school: a value that darkens everything follows PQ nowhere. Of two that are as good the one stays that was on first.
  const offPq = ({ light = 1 }: MappingOption) => Math.abs(Math.log2(light))
  const nearest = Math.min(...options.map(offPq))
  const proposed = [...options].sort(
    (a, b) =>
      Number(offPq(a) > nearest + STOPS_WORSE) - Number(offPq(b) > nearest + STOPS_WORSE) ||
      order.indexOf(a.mapping) - order.indexOf(b.mapping) ||
      (Math.abs(Math.abs(a.dims) - Math.abs(b.dims)) < MAPPING_FLAT
        ? Math.min(...a.readingIds) - Math.min(...b.readingIds)
        : Math.abs(a.dims) - Math.abs(b.dims)),
  )[0]!
  // The most disputed control of all is nobody's to decide but the reviewer's.
  if (kinds.length > 1 && answer === undefined)
    return open(
      { kind: 'choose-mapping', options, proposed: proposed.value },
      'choose how highlights are shown',
      { findings: { mappings: options } },
    )
  const best = answer ?? proposed
  const against = best.mapping !== wanted && kinds.includes(wanted)
  if (best.value !== now)
    return adjust({
      changes: changeTo(facts.state, control, best.value),
      reads: [PQ_PEAK],
      purpose: `Takes the value that ${NAME[best.mapping]}.`,
    })
  return done(NAME[best.mapping], {
    derived: [
      {
        control: control.key,
        value: now,
        rule: `${priceOfMapping(best)}${against ? ` Chosen by the reviewer; the policy asks for ${wanted}.` : ''}`,
        readingIds: best.readingIds,
      },
    ],
    limits:
      best.mapping === wanted || against
        ? []
        : [noSuchMapping({ control, wanted: NAME[wanted], value: best.value, does: NAME[best.mapping] })],
    findings: { mappings: options },
  })
}

/**
 * Tone mapping by policy: what each value of the control does is measured below and above the peak, and beside a highlight; the school that the
 * policy picks is taken where the display has it.
 */
const planToneMapping = (context: StepContext): StepPlan | undefined => {
  const { facts, byRole, movable } = context
  const control = byRole.mapping
  const peak = casePeakOf(facts)
  const lost = (patch: Patch) => facts.leftOut.includes(patch.key)
  if (!peak) return lost(PQ_PEAK) ? done('not compared: the peak was not read') : undefined
  const greys = mappingGreys(peak)
  if (control?.kind !== 'choice' || !movable(control))
    return howFarItFollows(context, greys.slice(0, 3), control ? 'locked' : 'no control for it')
  const pair = scenePatches(SCENE_LUMINANCES[1])
  const offered = (p: Patch) => isOffered(p, facts.bench)
  const scene: Scene | undefined =
    offered(pair.alone) && offered(pair.surrounded)
      ? { alone: pair.alone, surrounded: pair.surrounded, ...(offered(pair.lit) ? { lit: pair.lit } : {}) }
      : undefined
  const patches: Patch[] = [...greys, ...sceneOf(scene)]
  if (patches.some(lost))
    return done('not compared', {
      limits: [mappingNotRead({ control })],
    })
  const now = facts.state[control.key]!
  const { options, next } = eachValue(facts, {
    control,
    // The value that is on first.
    choices: [...control.choices].sort((a, b) => Number(b.value === now) - Number(a.value === now)),
    // A value is read whole: half of it may be from before the white level was tried.
    patchesFor: () => patches,
    readAt: (value) => {
      const read = firstReadAt(facts, control, value)
      return patches.every((p) => read.has(p.key)) ? read : new Map()
    },
    judge: (choice, read) => mappingAt(facts, { greys, scene }, choice, read),
    purpose: ({ value }) =>
      `Measures what ${quoted(control)} ${shown(control, value)} does below and above the peak.`,
  })
  return next ? adjust(next) : chooseSchool(facts, control, options)
}

export const toneMapping = defineStep({
  key: 'tone-mapping',
  title: 'Tone mapping',
  restsOn: MAPPING,
  cases: hdrCases,
  finds: ['mappings'],
  measures: true,
  plan: planToneMapping,
})
