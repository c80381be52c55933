import { describe, expect, it } from 'vitest'
import { standingOf } from './standing'

describe('a follow-along that is open or was kept', () => {
  it('is current only where the server says so', () => {
    expect(standingOf(3, 200, { revision: 3, withdrawn: '' })).toEqual({ kind: 'current' })
    expect(standingOf(3, 200, { revision: 4, withdrawn: '' })).toEqual({ kind: 'newer', revision: 4 })
    expect(standingOf(3, 200, { revision: 3, withdrawn: 'Wrong unit.' })).toEqual({
      kind: 'withdrawn',
      why: 'Wrong unit.',
    })
    expect(standingOf(3, 404, { error: 'no' })).toMatchObject({ kind: 'withdrawn' })
  })
  it('is not known to be where the server fails or says something else', () => {
    for (const [status, body] of [
      [503, { error: 'away' }],
      [500, null],
      [200, null],
      [200, { revision: 'three' }],
    ] as const)
      expect(standingOf(3, status, body)).toEqual({ kind: 'unknown' })
  })
})
