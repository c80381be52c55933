import { describe, expect, it } from 'vitest'
import { lostFields, plainProse, withFields } from './fields'

const fields = new Map([
  ['sdr-dark/white', '100 cd/m²'],
  ['sdr-dark/set/preset', 'cinema_b [new]'],
])

describe('figures that a text names', () => {
  it('are put in, and escaped where they would be read as markup', () => {
    expect(withFields('White is {{sdr-dark/white}}.', fields)).toBe('White is 100 cd/m².')
    expect(withFields('{{sdr-dark/set/preset}}', fields)).toBe('cinema_b [new]')
    expect(withFields('{{sdr-dark/set/preset}}', fields, true)).toBe('cinema\\_b \\[new\\]')
  })
  it('keep their name where they are there no longer', () => {
    const text = withFields('{{sdr-dark/white}}, {{hdr-film/peak}}', fields)
    expect(text).toBe('100 cd/m², {{hdr-film/peak}}')
    expect(lostFields(text)).toEqual(['hdr-film/peak'])
    expect(lostFields('{{}} {{No Such}} {one}')).toEqual([])
  })
})

describe('prose without markup', () => {
  it.each([
    ['### Head\n\nA **bold** and *light* [link](https://example.org/x_y).', 'Head\n\nA bold and light link.'],
    ['- one\n- two', 'one\ntwo'],
    ['| a | b |\n| --- | :-: |\n| 1 | 2 |', 'a, b\n1, 2'],
    ['3 * 4 * 5, snake_case_word', '3 * 4 * 5, snake_case_word'],
    ['cinema\\_b \\*as it is\\*', 'cinema_b *as it is*'],
    ['Plain words.', 'Plain words.'],
  ])('of %j is %j', (markdown, plain) => expect(plainProse(markdown)).toBe(plain))
})
