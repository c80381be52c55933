import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { rememberFor } from './remember'
import { wantedLight } from './wanted'

describe('what was reckoned once', () => {
  it('is not reckoned again for the same object and question, and never mixed up', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ object: fc.nat(2), key: fc.nat(5) }), { maxLength: 40 }),
        fc.integer({ min: 1, max: 8 }),
        (asked, most) => {
          const objects = [{}, {}, {}]
          const remembered = rememberFor<object, string>(most)
          for (const { object, key } of asked) {
            let reckoned = 0
            const answer = () => {
              reckoned++
              return `${object} ${key}`
            }
            expect(remembered(objects[object]!, String(key), answer)).toBe(`${object} ${key}`)
            const first = reckoned
            expect(remembered(objects[object]!, String(key), answer)).toBe(`${object} ${key}`)
            expect(reckoned).toBe(first)
          }
        },
      ),
    )
  })
  it('goes when too much is kept, what was asked for longest ago first', () => {
    const remembered = rememberFor<object, number>(2)
    const object = {}
    const asked: string[] = []
    const ask = (key: string) => remembered(object, key, () => asked.push(key))
    for (const key of ['a', 'b', 'a', 'c', 'a', 'b']) ask(key)
    expect(asked).toEqual(['a', 'b', 'c', 'b'])
  })
})

describe('the light that a tone target asks for', () => {
  const share = fc.double({ min: 0, max: 1, noNaN: true })
  const tone = fc.constantFrom('bt1886' as const, 1.8, 2.2, 2.4)
  it('goes from black to white, rising all the way', () => {
    fc.assert(
      fc.property(tone, share, share, fc.double({ min: 0, max: 1, noNaN: true }), (t, a, b, black) => {
        const ends = { white: 100, black }
        expect(wantedLight(t, 0, ends)).toBeCloseTo(black, 6)
        expect(wantedLight(t, 1, ends)).toBeCloseTo(100, 6)
        if (a < b) expect(wantedLight(t, a, ends)).toBeLessThanOrEqual(wantedLight(t, b, ends) + 1e-9)
      }),
    )
  })
  it('is a plain 2.4 for BT.1886 without black, and lighter in the dark the more black is lifted', () => {
    fc.assert(
      fc.property(share, (level) => {
        expect(wantedLight('bt1886', level, { white: 100, black: 0 })).toBeCloseTo(100 * level ** 2.4, 9)
      }),
    )
    const at = (black: number) => wantedLight('bt1886', 0.1, { white: 100, black }) - black
    expect(at(0.1)).toBeGreaterThan(at(0.01))
  })
})
