import { describe, expect, it } from 'vitest'
import { D65, type XYZ, xyToXyz } from '#core/colorimetry'
import { type Patch, uniformityPatches } from '#core/measure'
import { PLAIN_STATE, plainContext, plainFacts } from '../double'
import type { RouteFacts, RouteReading } from '../facts/facts'
import { uniformity, uniformityOf } from './uniformity'

const GRID = uniformityPatches(5)
const reading = (patch: Patch, id: number, xyz: XYZ): RouteReading => ({
  id,
  runId: 1,
  patch,
  state: PLAIN_STATE,
  xyz,
  purpose: 'verify',
})
/** Darker towards the right edge, and pinker in one corner. */
const read = (patches: readonly Patch[]) =>
  patches.map((p, i) => {
    const { x, y } = p.position!
    const corner = x > 0.85 && y > 0.85
    return reading(p, i + 1, xyToXyz(corner ? [0.32, 0.329] : D65, 100 * (1 - 0.3 * Math.max(0, x - 0.5))))
  })
const planned = (known: Partial<RouteFacts>) =>
  uniformity.plan(plainContext(plainFacts({ viewingCase: 'desktop', ...known })))!

describe('the evenness of a screen', () => {
  it('is the darkest place against the brightest, and the colour farthest from the middle', () => {
    const found = uniformityOf(read(GRID))!
    const x = Math.max(...GRID.map((p) => p.position!.x))
    expect(found.evenness).toBeCloseTo(1 - 0.3 * (x - 0.5), 6)
    expect(found.worstUv).toBeGreaterThan(0.003)
    expect(found.rows.filter((r) => r.deltaUv > 0.001)).toHaveLength(1)
    expect(found.rows.every((r) => r.id > 0)).toBe(true)
  })
  it('is not told without the middle', () => {
    const [middle] = GRID.filter((p) => p.position!.x === 0.5 && p.position!.y === 0.5)
    expect(uniformityOf(read(GRID.filter((p) => p !== middle)))).toBeUndefined()
    expect(uniformityOf(read([middle!]))).toBeUndefined()
  })
  it('is read by a bench that moves its meter, and by a person only where he asks for it', () => {
    const bench = { layouts: [], probe: false, eye: false, positions: true }
    expect(planned({ bench }).next).toMatchObject({ kind: 'sweep', purpose: 'verify', patches: GRID })
    const byHand = planned({ bench: { ...bench, eye: true } })
    expect(byHand.status).toBe('done')
    expect(byHand.limits[0]!.kind).toBe('uniformity-not-read')
  })
  it('says of a grid that was half read which places are blank', () => {
    const bench = { layouts: [], probe: false, eye: true, positions: true }
    const half = planned({ bench, readings: read(GRID.slice(0, 15)) })
    expect(half.limits[0]).toMatchObject({ kind: 'places-blank', facts: { read: 15, of: 25 } })
    const butOne = planned({ bench, readings: read(GRID.slice(0, -1)) })
    expect(butOne.limits).toMatchObject([{ kind: 'places-blank', facts: { read: 24 } }])
    expect(planned({ bench, readings: read(GRID) }).limits).toEqual([])
  })
})
