import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import BenchError from './(bench)/error'
import DeskError from './(desk)/error'
import FollowError from './(follow)/error'

const drawn = (page: typeof BenchError, digest?: string) =>
  renderToStaticMarkup(
    createElement(page, {
      error: Object.assign(new Error('SELECT secret FROM x'), digest ? { digest } : {}),
      reset: () => undefined,
    }),
  )

describe('a page that cannot be made', () => {
  const PAGES = [BenchError, DeskError, FollowError]
  it('names the number in the log, a way on and nothing of the error itself', () => {
    for (const page of PAGES) {
      expect(drawn(page, '29384756')).toContain('29384756')
      expect(drawn(page)).not.toMatch(/In the log/)
      expect(drawn(page, '1')).toMatch(/Try again/)
      expect(drawn(page, '1')).not.toMatch(/SELECT/)
      expect(drawn(page)).toMatch(/<title>.+ · Wexmar<\/title>/)
    }
  })
  it('tells a reviewer that the run goes on, and readers nothing of how Wexmar is run', () => {
    expect(drawn(BenchError)).toMatch(/a run that is going on goes on/)
    expect(drawn(FollowError)).toMatch(/kept on this phone/)
    expect(drawn(FollowError)).not.toMatch(/database|WEXMAR|bench/)
  })
})
