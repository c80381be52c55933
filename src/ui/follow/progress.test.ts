import { describe, expect, it } from 'vitest'
import { NOTHING, nextOf, progressIn, withStep } from './progress'

const CONTROLS = ['mode', 'light', 'warmth']

describe('progress of a follow-along', () => {
  it('goes on with the first setting that is neither set nor skipped', () => {
    expect(nextOf(CONTROLS, NOTHING)).toBe('mode')
    const some = withStep(withStep(NOTHING, 'mode', 'done'), 'light', 'skipped')
    expect(nextOf(CONTROLS, some)).toBe('warmth')
    expect(nextOf(CONTROLS, withStep(some, 'warmth', 'done'))).toBeUndefined()
  })
  it('opens a setting again, and never holds one twice', () => {
    const twice = withStep(withStep(NOTHING, 'light', 'done'), 'light', 'done')
    expect(twice).toEqual({ done: ['light'], skipped: [] })
    expect(withStep(twice, 'light', 'skipped')).toEqual({ done: [], skipped: ['light'] })
    expect(withStep(twice, 'light', 'open')).toEqual(NOTHING)
  })
  it('comes back as it was kept, and takes anything else for nothing', () => {
    const some = withStep(NOTHING, 'mode', 'done')
    expect(progressIn(JSON.stringify(some))).toEqual(some)
    for (const torn of [null, '', '{', '[]', 'null', '{"done":7}', '{"done":[1,{}]}'])
      expect(progressIn(torn)).toEqual(NOTHING)
  })
})
