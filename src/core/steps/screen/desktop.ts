import { xyToUv, xyzToXy } from '#core/colorimetry'
import type { Change, ControlValue } from '#core/display'
import { colourError, judgeGreyScale } from '#core/judge'
import { greyLevel, isOffered, type Patch, uniformityPatches } from '#core/measure'
import { targetOn } from '#core/target'
import { defineStep, desktopOnly, done, open, type StepPlan } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import { measuringStateOf, type RouteReading } from '../facts/facts'
import type { ClampRow, UniformityFindings, UniformityRow } from '../facts/findings'
import { readHere } from '../facts/hdr-readings'
import { COLOURS, EVERYTHING, WHITE } from '../rests-on'
import { CLAMP_LEVELS, MOST_TOURED } from '../tuning'

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
        gamma: judgeGreyScale(
          greys.sort((a, b) => a.level - b.level),
          facts.targets,
          facts.precision,
        )?.gamma,
        readingIds: [...read.values()].map((r) => r.id),
      },
    ]
  })
  return done(clamps.length ? `${clamps.length} measured` : '', { findings: { clamps } })
}

export const clamps = defineStep({
  key: 'clamps',
  title: 'Gamut clamps',
  restsOn: [...WHITE, ...COLOURS, 'peak-luminance'],
  cases: desktopOnly,
  measures: true,
  plan: planClamps,
})

/** Light and colour of a grid of places against the middle. In: readings of a grid by place. Out: undefined without the middle. */
export const uniformityOf = (
  readings: ReadonlyArray<Pick<RouteReading, 'id' | 'patch' | 'xyz'>>,
): UniformityFindings | undefined => {
  const placed = readings.flatMap((r) => (r.patch.position ? [{ ...r, position: r.patch.position }] : []))
  const middle = placed.find(({ position: { x, y } }) => Math.abs(x - 0.5) < 0.01 && Math.abs(y - 0.5) < 0.01)
  if (!middle || placed.length < 2) return undefined
  const [u0, v0] = xyToUv(xyzToXy(middle.xyz))
  const rows = placed.map(({ id, xyz, position }): UniformityRow => {
    const [u, v] = xyToUv(xyzToXy(xyz))
    return { ...position, luminance: xyz[1], deltaUv: Math.hypot(u - u0, v - v0), id }
  })
  const light = rows.map((r) => r.luminance)
  return {
    rows,
    evenness: Math.min(...light) / Math.max(...light),
    worstUv: Math.max(...rows.map((r) => r.deltaUv)),
  }
}

/** The same grey in twenty-five places, where the meter can be moved by the bench. */
const planUniformity = ({ watching }: StepContext): StepPlan => {
  const { facts } = watching
  const read = readHere(facts)
  const grid = uniformityPatches(5)
  const known = uniformityOf(grid.flatMap((p) => read.get(p.key) ?? []))
  const offered = grid.every((p) => isOffered(p, facts.bench))
  const missing = grid.filter((p) => !read.has(p.key) && !facts.leftOut.includes(p.key))
  // A person is not sent round the screen unasked: the sweep is there to be asked for.
  if (missing.length && offered && !facts.bench.eye)
    return open({ kind: 'sweep', purpose: 'verify', changes: [], patches: missing })
  const small = uniformityPatches(3)
  const asked = known ?? uniformityOf(small.flatMap((p) => read.get(p.key) ?? []))
  const meant = known ? grid : small
  const blank = meant.filter((p) => !read.has(p.key)).length
  return done(
    asked ? `darkest place ${(100 * asked.evenness).toFixed(0)} % of the brightest` : 'not asked for',
    {
      findings: { uniformity: asked },
      limits: asked
        ? blank > 0
          ? [
              {
                sentence: `Uniformity: ${meant.length - blank} of ${meant.length} places were read; the others are left blank, and what is said holds for those.`,
              },
            ]
          : []
        : [
            {
              sentence:
                'Uniformity was not measured: ask for the sweep “Uniformity”, and move the meter from place to place.',
            },
          ],
    },
  )
}

export const uniformity = defineStep({
  key: 'uniformity',
  title: 'Uniformity',
  restsOn: [...EVERYTHING, 'dimming'],
  cases: desktopOnly,
  measures: false,
  plan: planUniformity,
})
