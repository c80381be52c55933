'use client'

import { create, type Delta } from 'jsondiffpatch'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Command } from '#server/session'
import type { SessionView } from '#server/view'

/** Asks something of the server. Out: whether it was carried out. */
export type Send = (command: Command) => Promise<boolean>

interface Live {
  readonly view: SessionView
  /** The page does not hear from the server now. */
  readonly lost: boolean
  /** A command is on its way. */
  readonly busy: boolean
  /** Why the last command was not carried out. */
  readonly error: string
  /** Why the session cannot be worked out; empty where it can. */
  readonly failed: string
  readonly send: Send
  /** Has a finished case that is shown as it was left worked out anew. */
  readonly wake: () => void
  readonly clearError: () => void
}

/** Time after which a silent server counts as lost, ms. It sends a sign of life every two seconds. */
const SILENT_MS = 7_000
/** How long what a command did is waited for once it was carried out, ms: then the page takes keys again in any case. */
const SEEN_MS = 4_000

/** What an event brings: what has changed since the view of the mark before, or all of it. */
interface Change {
  readonly revision: number
  readonly mark: string
  readonly view?: SessionView
  readonly delta?: Delta
}
const patcher = create()

/** The view after a change. */
const appliedTo = (view: SessionView, { view: whole, delta }: Change): SessionView =>
  whole ?? (delta ? (patcher.patch(structuredClone(view), delta) as SessionView) : view)

/** Follows a session by its events, and connects again where the server falls silent or a change does not fit. Out: how to stop. */
const followSession = ({
  address,
  onLost,
  onFailed,
  onChange,
}: {
  /** Where to connect: with what is known by then. */
  address: () => string
  onLost: (lost: boolean) => void
  onFailed: (message: string) => void
  /** Out: whether the change fits what is known. */
  onChange: (change: Change) => boolean
}): (() => void) => {
  let silence: ReturnType<typeof setTimeout>
  let source: EventSource
  const alive = () => {
    clearTimeout(silence)
    onLost(false)
    silence = setTimeout(reconnect, SILENT_MS)
  }
  const connect = () => {
    source = new EventSource(address())
    source.addEventListener('failed', (event) => {
      alive()
      onFailed((JSON.parse(event.data) as { message: string }).message)
    })
    source.addEventListener('session', (event) => {
      alive()
      if (!onChange(JSON.parse(event.data) as Change)) reconnect()
    })
    source.addEventListener('alive', alive)
    source.onerror = () => {
      // Connected again by the browser itself, it would ask for what has changed since long ago.
      source.close()
      onLost(true)
      clearTimeout(silence)
      silence = setTimeout(reconnect, 1_000)
    }
  }
  function reconnect() {
    onLost(true)
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
}

/** A session that follows the server by events, and the commands to it. In: the view that the page came with. */
export const useSession = (first: SessionView): Live => {
  const [view, setView] = useState(first)
  const [lost, setLost] = useState(false)
  const [sending, setSending] = useState(false)
  const [error, setError] = useState('')
  const [failed, setFailed] = useState('')
  const [awake, setAwake] = useState(first.asLeft === undefined || first.next.kind !== 'compose')
  /** Revision that the last command made; the page waits until it has seen it. */
  const [wanted, setWanted] = useState(0)
  const newest = useRef(first)
  const inFlight = useRef(0)

  useEffect(
    () =>
      followSession({
        address: () =>
          `/api/sessions/${first.id}/events?mark=${encodeURIComponent(newest.current.mark)}${awake ? '' : `&left=${newest.current.revision}`}`,
        onLost: setLost,
        onFailed: setFailed,
        onChange: (change) => {
          const next = appliedTo(newest.current, change)
          if (next.mark !== change.mark) return false
          newest.current = next
          setView(next)
          setFailed('')
          return true
        },
      }),
    [first.id, awake],
  )

  useEffect(() => {
    if (wanted === 0 || view.revision >= wanted) return
    const timer = setTimeout(() => setWanted(0), SEEN_MS)
    return () => clearTimeout(timer)
  }, [wanted, view.revision])

  const send = useCallback(
    async (command: Command): Promise<boolean> => {
      const mine = ++inFlight.current
      setSending(true)
      setError('')
      try {
        const response = await fetch(`/api/sessions/${first.id}/commands`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          // What was decided on this view counts for this view only.
          body: JSON.stringify({ revision: newest.current.revision, ...command }),
        })
        const answer = (await response.json()) as { error?: string; revision?: number }
        if (answer.revision) setWanted(answer.revision)
        if (answer.error) setError(answer.error)
        return response.ok
      } catch {
        setError(
          'The server did not answer, so nothing was sent. All readings are kept. The page reconnects automatically; then press again.',
        )
        return false
      } finally {
        // A later command may be on its way by now.
        if (mine === inFlight.current) setSending(false)
      }
    },
    [first.id],
  )
  const busy = sending || view.revision < wanted
  return {
    view,
    lost,
    busy,
    error,
    failed,
    send,
    wake: useCallback(() => setAwake(true), []),
    clearError: () => setError(''),
  }
}
