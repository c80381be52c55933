'use client'

import Link from 'next/link'
import { useEffect, useState } from 'react'
import type { SessionView } from '#server/view'
import { Bench } from './bench'

/** Time between two tries to reach the server, ms. */
const AGAIN_MS = 1_000

/** The first view of a session, from its events. In: session; view that is known already. */
const useFirstView = (id: number, known: SessionView | undefined) => {
  const [view, setView] = useState(known)
  const [lost, setLost] = useState(false)
  const [failed, setFailed] = useState('')
  useEffect(() => {
    if (view) return
    let timer: ReturnType<typeof setTimeout>
    let source: EventSource
    const connect = () => {
      source = new EventSource(`/api/sessions/${id}/events`)
      source.addEventListener('session', (event) => {
        const told = JSON.parse(event.data) as { view?: SessionView }
        if (told.view) setView(told.view)
      })
      source.addEventListener('failed', (event) =>
        setFailed((JSON.parse(event.data) as { message: string }).message),
      )
      source.onerror = () => {
        source.close()
        setLost(true)
        timer = setTimeout(connect, AGAIN_MS)
      }
    }
    connect()
    return () => {
      clearTimeout(timer)
      source.close()
    }
  }, [id, view])
  return { view, lost, failed }
}

/** The bench of a session. Where its next adjustment has to be worked out first, the page says so and does not make anybody wait for it. */
export const BenchPage = ({
  id,
  name,
  known,
  guideHref,
}: {
  id: number
  /** Display, unit and viewing case. */
  name: string
  known: SessionView | undefined
  guideHref: string
}) => {
  const { view, lost, failed } = useFirstView(id, known)
  if (view) return <Bench first={view} guideHref={guideHref} />
  return (
    <main className="grid min-h-dvh content-center gap-3 p-8 text-center">
      <h1 className="figure text-4xl">{name}</h1>
      <p role="status" className="text-lg text-soft">
        {lost
          ? 'The server does not answer; trying again. All readings are kept.'
          : failed
            ? `The next adjustment could not be worked out: ${failed}`
            : 'Working out the next adjustment.'}
      </p>
      {failed && (
        <p className="text-soft">
          All readings are kept, and it is tried again automatically.{' '}
          <Link className="link" href={`/sessions/${id}/files`}>
            Files of this session
          </Link>
        </p>
      )}
      <noscript>
        <p className="text-lamp">The bench needs JavaScript; guides do not.</p>
      </noscript>
      <p>
        <Link className="link" href="/">
          Home
        </Link>
      </p>
    </main>
  )
}
