'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import type { Command } from '#server/commands'
import type { SessionView } from '#server/views'

export interface Live {
  readonly view: SessionView
  /** The page does not hear from the server now. */
  readonly lost: boolean
  /** A command is on its way. */
  readonly busy: boolean
  /** Why the last command was not carried out. */
  readonly error: string
  readonly send: (command: Command) => Promise<boolean>
  readonly clearError: () => void
}

/** Time after which a silent server counts as lost, ms. It sends a sign of life every two seconds. */
const SILENT_MS = 7_000

/** A session that follows the server by events, and the commands to it. In: the view that the page came with. */
export const useSession = (first: SessionView): Live => {
  const [view, setView] = useState(first)
  const [lost, setLost] = useState(false)
  const [busy, setBusy] = useState(false)
  const [error, setError] = useState('')
  const newest = useRef(first.revision)
  const inFlight = useRef(0)
  const take = useCallback((next: SessionView) => {
    // An answer that was overtaken on its way is older than what is shown.
    if (next.revision < newest.current) return
    // What a command did may be heard by events before its own answer: then it is done with.
    if (next.revision > newest.current) setBusy(false)
    newest.current = next.revision
    setView(next)
  }, [])

  useEffect(() => {
    let silence: ReturnType<typeof setTimeout>
    let source: EventSource
    const alive = () => {
      clearTimeout(silence)
      setLost(false)
      silence = setTimeout(reconnect, SILENT_MS)
    }
    const connect = () => {
      source = new EventSource(`/api/sessions/${first.id}/events`)
      source.addEventListener('session', (event) => {
        alive()
        take(JSON.parse(event.data) as SessionView)
      })
      source.addEventListener('alive', alive)
      source.onerror = () => {
        setLost(true)
        if (source.readyState === EventSource.CLOSED) {
          clearTimeout(silence)
          silence = setTimeout(reconnect, 1_000)
        }
      }
    }
    const reconnect = () => {
      setLost(true)
      source.close()
      connect()
      clearTimeout(silence)
      silence = setTimeout(reconnect, SILENT_MS)
    }
    connect()
    silence = setTimeout(reconnect, SILENT_MS)
    return () => {
      clearTimeout(silence)
      source.close()
    }
  }, [first.id, take])

  const send = useCallback(
    async (command: Command): Promise<boolean> => {
      const mine = ++inFlight.current
      setBusy(true)
      setError('')
      try {
        const response = await fetch(`/api/sessions/${first.id}/commands`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(command),
        })
        const answer = (await response.json()) as { error?: string; view?: SessionView }
        if (answer.view) take(answer.view)
        if (answer.error) setError(answer.error)
        return response.ok
      } catch {
        setError(
          'The server did not answer, so nothing was sent. All readings are kept. The page connects again by itself; then press once more.',
        )
        return false
      } finally {
        // A later command may be on its way by now.
        if (mine === inFlight.current) setBusy(false)
      }
    },
    [first.id, take],
  )
  return { view, lost, busy, error, send, clearError: () => setError('') }
}
