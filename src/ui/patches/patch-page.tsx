'use client'

import { useEffect, useRef, useState } from 'react'
import { USUAL_WINDOW } from '#core/measure'
import type { WantedPatch } from '#server/equipment'
import { styled } from '#ui/charts'
import { useScreenTrouble } from '#ui/patterns'

const FIELDS = 5
const css = (signal: readonly number[]) => `rgb(${signal.map((s) => Math.round(255 * s)).join(' ')})`
const BLACK = [0, 0, 0] as const

/** The page's own account of itself, kept beside what was read from it. */
const account = () =>
  `${window.innerWidth} × ${window.innerHeight} points, ${window.devicePixelRatio} pixels a point, ${screen.colorDepth} bit${document.fullscreenElement ? ', full screen' : ''}`

/** The patch that the run asks for; follows the run by itself. */
const useWantedPatch = (session: number, onLost: (lost: boolean) => void): WantedPatch | null => {
  const [wanted, setWanted] = useState<WantedPatch | null>(null)
  useEffect(() => {
    const source = new EventSource(`/api/sessions/${session}/patches`)
    source.addEventListener('patch', (e) => {
      setWanted(JSON.parse((e as MessageEvent<string>).data) as WantedPatch | null)
      onLost(false)
    })
    source.onopen = () => onLost(false)
    source.onerror = () => onLost(true)
    return () => source.close()
  }, [session, onLost])

  return wanted
}

/** Tells that a patch is on the screen, only once the browser has painted it. */
const useTellShown = (session: number, wanted: WantedPatch | null, onLost: (lost: boolean) => void) => {
  useEffect(() => {
    if (!wanted) return
    let gone = false
    let timer: ReturnType<typeof setTimeout> | undefined
    const tell = () =>
      fetch(`/api/sessions/${session}/patches`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({
          ...{ runId: wanted.runId, task: wanted.task, page: account() },
          width: Math.round(window.innerWidth * window.devicePixelRatio),
          height: Math.round(window.innerHeight * window.devicePixelRatio),
        }),
      })
        .then((r) => onLost(!r.ok))
        .catch(() => {
          onLost(true)
          if (!gone) timer = setTimeout(tell, 1_000)
        })
    const frame = requestAnimationFrame(() => requestAnimationFrame(() => void tell()))
    return () => {
      gone = true
      cancelAnimationFrame(frame)
      clearTimeout(timer)
    }
  }, [wanted, session, onLost])
}

const SDR_ONLY = 'The system drives this display in HDR: switch HDR off, or nothing here can be trusted.'
const fillsScreen = () =>
  document.fullscreenElement !== null ||
  (window.innerHeight >= screen.height && window.innerWidth >= screen.width)

/** What the page can show, and the way to full screen. */
const Introduction = ({
  title,
  trouble,
  onBegin,
}: {
  title: string
  trouble: readonly string[]
  onBegin: () => void
}) => (
  <main className="flex min-h-dvh flex-col justify-center gap-6 bg-black px-[8vw] text-[#c8c8c8]">
    <h1 className="figure text-5xl text-white">Patches for {title}</h1>
    <p className="max-w-2xl text-lg">
      Open this page on the display under test. It follows the run automatically: nothing has to be pressed on
      it again.
    </p>
    <ul className="grid max-w-2xl gap-2">
      <li>
        Shows SDR only, 8 bit a channel, as the computer sends it: its colour management and its graphics
        driver stand between Wexmar and the screen. Switch colour profiles, night colours and automatic HDR
        off.
      </li>
      <li>
        Cannot show HDR, nor codes below black or above white, nor tell the display a range or a colour space.
        Use a pattern source for these.
      </li>
      <li>Switch the screen saver and the dimming of still pictures off.</li>
    </ul>
    {trouble.map((t) => (
      <p key={t} className="max-w-2xl text-lamp">
        {t}
      </p>
    ))}
    <p>
      <button type="button" className="button" onClick={onBegin}>
        <span className="key">Enter</span> Full screen
      </button>
    </p>
  </main>
)

/**
 * Shows the patches of a run on the display under test, full screen: follows the run by itself and says when a patch
 * stands. SDR only, as a browser can.
 */
export const PatchPage = ({ session, title }: { session: number; title: string }) => {
  const [lost, setLost] = useState(false)
  const [begun, setBegun] = useState(false)
  const wanted = useWantedPatch(session, setLost)
  const { trouble } = useScreenTrouble(SDR_ONLY, fillsScreen)
  useTellShown(session, begun ? wanted : null, setLost)
  const begin = () => {
    setBegun(true)
    // A browser may refuse full screen; the patches are shown all the same, and the page says what is wrong.
    document.documentElement.requestFullscreen?.().catch(() => undefined)
  }
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      if (e.key === 'Enter' && !begun) begin()
      if (e.key === 'Escape') setBegun(false)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  })

  if (!begun) return <Introduction title={title} trouble={trouble} onBegin={begin} />
  return (
    <main
      className="fixed inset-0 cursor-none overflow-hidden bg-black"
      data-patch={wanted?.patch.key ?? 'none'}
    >
      <h1 className="sr-only">Patches for {title}</h1>
      {wanted ? <Drawn patch={wanted.patch} /> : null}
      {lost && (
        <p role="alert" className="absolute bottom-2 left-3 text-sm text-[#777]">
          This page has lost its connection to Wexmar and is reconnecting.
        </p>
      )}
      {!wanted && !lost && (
        <p className="absolute bottom-2 left-3 text-sm text-[#333]">
          Waiting for the next patch. Esc ends it.
        </p>
      )}
    </main>
  )
}

const Drawn = ({ patch }: { patch: WantedPatch['patch'] }) => {
  const { layout = 'window', signal, surround = BLACK, window: share = USUAL_WINDOW } = patch
  if (layout === 'checkerboard')
    return (
      <div className="absolute inset-0 grid grid-cols-5 grid-rows-5">
        {Array.from({ length: FIELDS * FIELDS }, (_, i) => i).map((i) => (
          <div key={i} ref={styled({ background: css(i % 2 === 0 ? signal : surround) })} />
        ))}
      </div>
    )
  const side = 100 * Math.sqrt(share)
  return (
    <div
      className="absolute inset-0"
      ref={styled({ background: css(layout === 'pixels' ? BLACK : surround) })}
    >
      <div
        className="absolute"
        ref={styled({
          width: `${side}%`,
          height: `${side}%`,
          left: `${(100 - side) / 2}%`,
          top: `${(100 - side) / 2}%`,
          background: layout === 'pixels' ? 'none' : css(signal),
        })}
      >
        {layout === 'pixels' && <Pixels signal={signal} surround={surround} />}
      </div>
    </div>
  )
}

/** Single device pixels of two colours in turn. */
const Pixels = ({ signal, surround }: { signal: readonly number[]; surround: readonly number[] }) => {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const element = canvas.current
    const box = element?.parentElement?.getBoundingClientRect()
    const ctx = element?.getContext('2d')
    if (!element || !box || !ctx) return
    const ratio = window.devicePixelRatio
    element.width = Math.round(box.width * ratio)
    element.height = Math.round(box.height * ratio)
    const tile = document.createElement('canvas')
    tile.width = 2
    tile.height = 2
    const t = tile.getContext('2d')!
    t.fillStyle = css(surround)
    t.fillRect(0, 0, 2, 2)
    t.fillStyle = css(signal)
    t.fillRect(0, 0, 1, 1)
    t.fillRect(1, 1, 1, 1)
    ctx.fillStyle = ctx.createPattern(tile, 'repeat')!
    ctx.fillRect(0, 0, element.width, element.height)
  }, [signal, surround])
  return <canvas ref={canvas} className="absolute inset-0 size-full [image-rendering:pixelated]" />
}
