import { xyToUv, xyzToXy } from '#core/colorimetry'
import { STRENGTHS } from '#core/display'
import { isOffered, uniformityPatches } from '#core/measure'
import { defineStep, desktopOnly, done, open, type StepPlan } from '../contract'
import type { StepContext } from '../facts/context'
import type { RouteReading } from '../facts/facts'
import type { UniformityFindings, UniformityRow } from '../facts/findings-games'
import { readHere } from '../facts/hdr-readings'
import { EVERYTHING } from '../rests-on'
import { placesBlank, uniformityNotRead } from './say'

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
          ? [placesBlank({ read: meant.length - blank, of: meant.length })]
          : []
        : [uniformityNotRead],
    },
  )
}

export const uniformity = defineStep({
  key: 'uniformity',
  title: 'Uniformity',
  restsOn: [...EVERYTHING, ...STRENGTHS],
  cases: desktopOnly,
  finds: ['uniformity'],
  measures: false,
  plan: planUniformity,
})
