import { describe, expect, it } from 'vitest'
import { bt1886Eotf, D65, type XYZ, xyToXyz } from '#core/colorimetry'
import { judgeMode, REFERENCE_POLICY, sayMode, targetsOf, toldApart } from '#core/judge'
import { greyLevel, PATCHES } from '#core/measure'
import { targetOn } from '#core/target'

const targets = targetsOf(REFERENCE_POLICY, 'dark')
const precision = { relative: 1e-4, dark: 1e-5 }
/** A display that does exactly what is asked, with something put in between. */
const mode = (bend: (xyz: XYZ, level: number | undefined) => XYZ = (xyz) => xyz) =>
  PATCHES.sdr.survey.map((patch, i) => ({
    id: i + 1,
    patch,
    xyz: bend(
      targetOn({ white: D65, tone: 'bt1886' }, { white: 200, black: 0.05 }).xyzOf(patch.signal),
      greyLevel(patch),
    ),
  }))
const verdict = (bend?: Parameters<typeof mode>[0]) => judgeMode(mode(bend), targets, precision)!
const said = (bend?: Parameters<typeof mode>[0]) => sayMode(verdict(bend), targets).join(' ')

describe('a picture mode', () => {
  it('that does what is asked has nothing that stands out', () => {
    const { grey, colours, saturation, crushed, clipped, bend } = verdict()
    expect(grey.whiteError.worst).toBeLessThan(0.01)
    for (const c of colours) expect(c.deltaE).toBeLessThan(0.4)
    expect(saturation).toBeCloseTo(1, 2)
    expect([crushed, clipped]).toEqual([false, false])
    expect(bend).toBeLessThan(0.06)
    expect(said()).toMatch(/^White is near its target/)
  })
  it('is called blue, green or yellow by where its white lies', () => {
    const shift =
      (x: number, z: number) =>
      (xyz: XYZ): XYZ => [xyz[0] * x, xyz[1], xyz[2] * z]
    expect(said(shift(1, 1.4))).toMatch(/far too blue/)
    expect(said(shift(1, 0.8))).toMatch(/too yellow/)
    expect(said(shift(0.9, 0.9))).toMatch(/green/)
  })
  it('is called oversaturated where colours lie beyond their targets, and names the worst', () => {
    const strong = (xyz: XYZ, level: number | undefined): XYZ => {
      if (level !== undefined) return xyz
      const white = xyToXyz(D65, xyz[1])
      return xyz.map((v, i) => Math.max(0, white[i]! + 1.3 * (v - white[i]!))) as unknown as XYZ
    }
    expect(said(strong)).toMatch(/colours are oversaturated, (red|green|blue|cyan|magenta|yellow) most/)
  })
  it('loses its ends where steps cannot be told apart', () => {
    const dark = bt1886Eotf(0, { white: 200, black: 0.05 })
    expect(said((xyz, l) => (l !== undefined && l < 0.04 ? xyToXyz(D65, dark) : xyz))).toMatch(
      /shadow detail is crushed/,
    )
    expect(said((xyz, l) => (l !== undefined && l > 0.96 ? xyToXyz(D65, 200) : xyz))).toMatch(
      /highlights are clipped/,
    )
  })
  it('cannot be judged without its white', () => {
    expect(
      judgeMode(
        mode().filter((r) => greyLevel(r.patch) !== 1),
        targets,
        precision,
      ),
    ).toBeUndefined()
  })
})

describe('two luminances side by side', () => {
  it('are told apart by about a percent in the light, by much more in the dark', () => {
    expect(toldApart(100, 100.2)).toBe(false)
    expect(toldApart(100, 102)).toBe(true)
    expect(toldApart(0.01, 0.0102)).toBe(false)
    expect(toldApart(0.01, 0.0115)).toBe(true)
  })
})
