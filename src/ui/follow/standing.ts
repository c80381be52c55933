'use client'

import { useEffect, useState } from 'react'
import { z } from 'zod'

/** Whether a page that is open, or was kept, still shows what is public. */
export type Standing =
  | { readonly kind: 'current' }
  | { readonly kind: 'newer'; readonly revision: number }
  | { readonly kind: 'withdrawn'; readonly why: string }
  /** Nobody answers. */
  | { readonly kind: 'unknown' }

const Answer = z.object({ revision: z.number().int(), withdrawn: z.string() })

/** How often a page that stays open asks, and how long it waits for an answer, ms. */
const EVERY = 60_000
const PATIENCE = 6_000

/** What an answer says of a page that shows a revision. In: that revision; status and body of the answer. */
export const standingOf = (shown: number, status: number, body: unknown): Standing => {
  // A guide that is not at its address any more was taken away.
  if (status === 404 || status === 410) return { kind: 'withdrawn', why: '' }
  const answer = Answer.safeParse(body)
  if (status !== 200 || !answer.success) return { kind: 'unknown' }
  const { revision, withdrawn } = answer.data
  if (withdrawn) return { kind: 'withdrawn', why: withdrawn }
  return revision === shown ? { kind: 'current' } : { kind: 'newer', revision }
}

/** Asks, now and again, whether a guide’s page is still what is public. In: slug, revision that the page shows. Out: undefined before the first answer. */
export const useStanding = (slug: string, revision: number): Standing | undefined => {
  const [standing, setStanding] = useState<Standing>()
  useEffect(() => {
    let gone = false
    const ask = async () => {
      let found: Standing
      try {
        const answer = await fetch(`/guides/${slug}/standing`, {
          cache: 'no-store',
          signal: AbortSignal.timeout(PATIENCE),
        })
        found = standingOf(revision, answer.status, await answer.json())
      } catch {
        // No network, or no answer in time: what is public is not known.
        found = { kind: 'unknown' }
      }
      if (!gone) setStanding(found)
    }
    const seen = () => {
      if (!document.hidden) void ask()
    }
    void ask()
    const timer = setInterval(seen, EVERY)
    document.addEventListener('visibilitychange', seen)
    window.addEventListener('online', seen)
    return () => {
      gone = true
      clearInterval(timer)
      document.removeEventListener('visibilitychange', seen)
      window.removeEventListener('online', seen)
    }
  }, [slug, revision])
  return standing
}
