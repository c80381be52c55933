import { describe, expect, it } from 'vitest'
import { type MovedAlone, verdictAlone } from './control-alone'

const pair = (moved: number, more: Partial<MovedAlone> = {}): MovedAlone => ({
  level: 0.5,
  from: 0,
  to: 20,
  clicks: 20,
  moved,
  sigma: 0.002,
  ...more,
})
/** A click of such a control usually moves 0.3 % of a level. */
const usual = () => 0.003

describe('a control that was moved by itself', () => {
  it('works, works backwards or does nothing, as two readings tell', () => {
    expect(verdictAlone([pair(0.06)], usual)?.verdict).toBe('works')
    expect(verdictAlone([pair(0.02)], usual)?.verdict).toBe('works')
    expect(verdictAlone([pair(-0.06)], usual)?.verdict).toBe('backwards')
    expect(verdictAlone([pair(0.001)], usual)?.verdict).toBe('dead')
  })
  it('is not judged by a few clicks, nor by readings that scatter too much', () => {
    expect(verdictAlone([pair(0, { clicks: 3 })], usual)).toBeUndefined()
    expect(verdictAlone([pair(0, { sigma: 0.02 })], usual)).toBeUndefined()
    expect(verdictAlone([], usual)).toBeUndefined()
  })
  it('is not called dead where it moved a little: it may lie elsewhere than its label says', () => {
    expect(verdictAlone([pair(0.007, { sigma: 0.0005 })], usual)?.verdict).not.toBe('dead')
  })
  it('is not judged at a level that it is not expected to move', () => {
    expect(verdictAlone([pair(0)], () => 0)).toBeUndefined()
  })
  it('is judged by the pair that tells most', () => {
    const [far, near] = [pair(0.06), pair(0.001, { clicks: 6, to: 6, sigma: 0.0012 })]
    expect(verdictAlone([near, far], usual)?.pair).toBe(far)
  })
})
