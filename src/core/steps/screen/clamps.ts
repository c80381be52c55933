import type { Change, ControlValue } from '#core/display'
import { colourError, judgeGreyScale } from '#core/judge'
import { greyLevel, type Patch } from '#core/measure'
import { targetOn } from '#core/target'
import { adjust, defineStep, desktopOnly, done, open, type StepPlan } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import { changeTo } from '../facts/each-value'
import { measuringStateOf, type RouteReading } from '../facts/facts'
import type { ClampRow } from '../facts/findings-games'
import { COLOURS, WHITE } from '../rests-on'
import { CLAMP_APART, CLAMP_LEVELS, MOST_TOURED, PER_GAMMA } from '../tuning'

/** Standard content that tells a clamp from another: memory colours, and greys for its curve. */
const clampPatches = ({ patches, facts }: RouteContext): readonly Patch[] =>
  [
    patches.white,
    ...patches.wholeCase.filter((p) => {
      const level = greyLevel(p)
      return level !== undefined && CLAMP_LEVELS.some((l) => Math.abs(l - level) < 1e-6)
    }),
    patches.black,
    ...patches.memoryColours,
  ].filter((p, i, all) => all.findIndex((q) => q.key === p.key) === i && !facts.leftOut.includes(p.key))

/** The newest readings in a value of the gamut control, everything else as it is now. */
const readIn = (context: RouteContext, control: string, value: ControlValue): Map<string, RouteReading> => {
  const { facts } = context
  const wanted = { ...measuringStateOf(facts, facts.state), [control]: value }
  const out = new Map<string, RouteReading>()
  for (const r of [...facts.readings, ...(facts.toured ?? [])]) {
    if (r.purpose === 'feed-check') continue
    const here = measuringStateOf(facts, r.state)
    if (Object.keys(wanted).every((key) => here[key] === wanted[key])) out.set(r.patch.key, r)
  }
  return out
}

/**
 * Standard content in each value of the gamut control, once white and colours are right: what a clamp does to memory colours, and to gamma, since
 * it may carry a curve of its own. The display is left in the gamut that was chosen.
 */
const planClamps = (context: StepContext): StepPlan | undefined => {
  const { facts, byRole } = context
  const control = byRole.gamut
  if (control?.kind !== 'choice' || !context.movable(control)) return undefined
  const now = facts.state[control.key]!
  const patches = clampPatches(context)
  const missing = control.choices.flatMap(({ value }) => {
    const read = readIn(context, control.key, value)
    const unread = patches.filter((p) => !read.has(p.key))
    return unread.length ? [{ value, unread }] : []
  })
  // A display that does not stay where it is set is not asked for ever: what was read of it stands.
  if (missing.length && (facts.toured?.length ?? 0) <= MOST_TOURED) {
    let stands: ControlValue = now
    const stops = missing.map(({ value, unread }) => {
      const changes: Change[] = value === stands ? [] : [{ control: control.key, from: stands, to: value }]
      stands = value
      return { changes, reads: unread, probes: [] }
    })
    return open({
      kind: 'tour',
      title: 'Standard content in each gamut',
      stops,
      back: stands === now ? [] : [{ control: control.key, from: stands, to: now }],
    })
  }
  const wantedGamma = typeof facts.targets.tone === 'number' ? facts.targets.tone : undefined
  /** How far standard content is off: memory colours, and what gamma does to all else, ΔE00. */
  const offOf = ({ natural, gamma }: ClampRow) =>
    natural + (gamma === null || wantedGamma === undefined ? 0 : PER_GAMMA * Math.abs(gamma - wantedGamma))
  const clamps = control.choices.flatMap(({ value, label }): ClampRow[] => {
    const read = readIn(context, control.key, value)
    const white = read.get(context.patches.white.key)
    if (!white) return []
    const black = Math.max(0, read.get(context.patches.black.key)?.xyz[1] ?? 0)
    const target = targetOn(facts.targets, { white: white.xyz[1], black })
    const errors = context.patches.memoryColours.flatMap((p) => {
      const own = read.get(p.key)
      return own ? [colourError(own.xyz, target.xyzOf(p.signal), target).deltaE] : []
    })
    if (errors.length === 0) return []
    const greys = [...read.values()].flatMap((r) => {
      const level = greyLevel(r.patch)
      return level === undefined ? [] : [{ level, xyz: r.xyz, id: r.id }]
    })
    return [
      {
        value,
        label,
        natural: errors.reduce((a, b) => a + b, 0) / errors.length,
        gamma:
          judgeGreyScale(
            greys.sort((a, b) => a.level - b.level),
            facts.targets,
            facts.precision,
          )?.gamma ?? null,
        readingIds: [...read.values()].map((r) => r.id),
      },
    ]
  })
  // What measured best is taken, curve included: primaries alone do not tell what a clamp does besides.
  const own = clamps.find((c) => c.value === now)
  const best = clamps.reduce<ClampRow | undefined>((a, b) => (a && offOf(a) <= offOf(b) ? a : b), undefined)
  if (own && best && offOf(own) - offOf(best) > CLAMP_APART)
    return adjust(
      {
        changes: changeTo(facts.state, control, best.value),
        reads: [],
        purpose: `Takes the value under which standard content measured nearest: ${best.label}.`,
      },
      '',
      { findings: { clamps } },
    )
  return done(clamps.length ? `${clamps.length} measured` : '', {
    findings: { clamps },
    derived: own
      ? [
          {
            control: control.key,
            value: own.value,
            rule: `standard content nearest of ${clamps.length} measured: memory colours ΔE00 ${own.natural.toFixed(1)}${own.gamma === null ? '' : `, gamma ${own.gamma.toFixed(2)}`}`,
            readingIds: clamps.flatMap((c) => c.readingIds),
          },
        ]
      : [],
  })
}

export const clamps = defineStep({
  key: 'clamps',
  title: 'Gamut clamps',
  restsOn: [...WHITE, ...COLOURS, 'peak-luminance'],
  cases: desktopOnly,
  finds: ['clamps'],
  measures: true,
  plan: planClamps,
})
