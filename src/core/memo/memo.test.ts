import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { createMemo } from './memo'

describe('what was reckoned once', () => {
  it('is not reckoned again for the same object and question, and never mixed up', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ object: fc.nat(2), key: fc.nat(5), question: fc.constantFrom('a', 'b') }), {
          maxLength: 40,
        }),
        (asked) => {
          const objects = [{}, {}, {}]
          const memo = createMemo()
          for (const { object, key, question } of asked)
            for (const recall of [
              (answer: () => string) => memo.recall(question, objects[object]!, String(key), answer),
              (answer: () => string) => memo.about(`${question} ${key}`, objects[object]!, answer),
              (answer: () => string) =>
                memo.between(`${question} ${key}`, objects[object]!, objects[0]!, answer),
            ]) {
              let reckoned = 0
              const answer = () => {
                reckoned++
                return `${question} ${object} ${key}`
              }
              expect(recall(answer)).toBe(`${question} ${object} ${key}`)
              const first = reckoned
              expect(recall(answer)).toBe(`${question} ${object} ${key}`)
              expect(reckoned).toBe(first)
            }
        },
      ),
    )
  })
  it('may be nothing at all', () => {
    const memo = createMemo()
    let asked = 0
    for (let i = 0; i < 3; i++) memo.about('x', memo, () => void asked++)
    expect(asked).toBe(1)
  })
  it('goes when too much is kept, what was asked for longest ago first', () => {
    const memo = createMemo()
    const asked: string[] = []
    const ask = (key: string) => memo.recall('colour-clicks', memo, key, () => asked.push(key))
    for (const key of ['a', 'b', 'c', 'd', 'a', 'e', 'a', 'b']) ask(key)
    expect(asked).toEqual(['a', 'b', 'c', 'd', 'e', 'b'])
  })
  it('belongs to the memory that it was asked of', () => {
    const object = {}
    const of = (answer: number) => createMemo().about('x', object, () => answer)
    expect([of(1), of(2)]).toEqual([1, 2])
  })
})

describe('numbers', () => {
  it('of a list are its own, always the same, and one for all that are empty', () => {
    const { identity } = createMemo()
    const [a, b] = [[1], [1]]
    expect(identity(a)).toBe(identity(a))
    expect(identity(a)).not.toBe(identity(b))
    expect(identity([])).toBe(identity([]))
    expect(identity([])).not.toBe(identity(a))
  })
  it('of a text are the same for equal ones', () => {
    const { numberOf } = createMemo()
    expect(numberOf('a')).toBe(numberOf('a'))
    expect(numberOf('a')).not.toBe(numberOf('b'))
  })
})
