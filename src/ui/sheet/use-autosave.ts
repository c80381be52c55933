'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import type { DraftRow } from '#core/draft'

/** What the server answers to a draft: its revision, or why it was not stored. */
export type Saved =
  | { readonly ok: true; readonly revision: number }
  | { readonly ok: false; readonly error: string }

/** After so long without a key, what was typed is stored, ms. */
const REST_MS = 500
/** After so long it is tried again where the server did not answer, ms. */
const AGAIN_MS = 4_000

/**
 * Stores rows as they change, one after the other. In: rows; revision that they came with; what stores them. Out: how it stands, what is wrong,
 * the newest revision, and what stores now and waits for it.
 */
export const useAutosave = (
  rows: readonly DraftRow[],
  revision: number,
  save: (rows: readonly DraftRow[], revision: number) => Promise<Saved>,
) => {
  const stored = useRef({ rows, revision })
  const newest = useRef(rows)
  newest.current = rows
  const going = useRef<Promise<void> | undefined>(undefined)
  const [error, setError] = useState('')
  const [busy, setBusy] = useState(false)
  const [, told] = useState(0)

  const flush = useCallback(async (): Promise<boolean> => {
    if (going.current) await going.current
    if (newest.current === stored.current.rows) return true
    const sent = newest.current
    setBusy(true)
    let fine = false
    going.current = save(sent, stored.current.revision)
      .then(
        (answer) => {
          fine = answer.ok
          setError(answer.ok ? '' : answer.error)
          if (answer.ok) stored.current = { rows: sent, revision: answer.revision }
        },
        () => setError('The server did not answer. What was typed stays on this page and is sent again.'),
      )
      .finally(() => {
        going.current = undefined
        setBusy(false)
        told((n) => n + 1)
      })
    await going.current
    return fine && newest.current === stored.current.rows
  }, [save])

  const waiting = rows !== stored.current.rows
  useEffect(() => {
    if (rows === stored.current.rows) return
    const timer = setTimeout(() => void flush(), error ? AGAIN_MS : REST_MS)
    return () => clearTimeout(timer)
  }, [rows, error, flush])

  useEffect(() => {
    const hidden = () => {
      if (document.visibilityState === 'hidden') void flush()
    }
    const leaving = (event: BeforeUnloadEvent) => {
      if (newest.current !== stored.current.rows) event.preventDefault()
    }
    document.addEventListener('visibilitychange', hidden)
    window.addEventListener('beforeunload', leaving)
    return () => {
      document.removeEventListener('visibilitychange', hidden)
      window.removeEventListener('beforeunload', leaving)
    }
  }, [flush])

  return { waiting, busy, error, flush, revision: () => stored.current.revision }
}
