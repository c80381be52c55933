import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { rememberFor } from './remember'

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
