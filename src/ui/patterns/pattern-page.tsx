'use client'

import Link from 'next/link'
import { useEffect, useRef, useState } from 'react'
import { type Codes, drawPattern, PATTERN_SIZE, Surface, VISUAL_PATTERNS, visualPattern } from '#core/pattern'
import { ThemeRoot } from '#ui/desk'
import { useScreenTrouble } from './screen-trouble'

/** A canvas that is painted on directly, as fast as the display shows pictures. */
class CanvasSurface extends Surface {
  constructor(private readonly context: CanvasRenderingContext2D) {
    super(context.canvas.width, context.canvas.height)
  }
  fill(x: number, y: number, width: number, height: number, [r, g, b]: Codes): void {
    const [left, top] = [Math.round(x), Math.round(y)]
    this.context.fillStyle = `rgb(${r} ${g} ${b})`
    this.context.fillRect(left, top, Math.round(x + width) - left, Math.round(y + height) - top)
  }
}

const sizeNow = (): readonly [number, number] => [
  Math.min(PATTERN_SIZE.width, Math.round(window.innerWidth * window.devicePixelRatio)),
  Math.min(PATTERN_SIZE.height, Math.round(window.innerHeight * window.devicePixelRatio)),
]

const IN_HDR = 'The system drives this display in HDR: these patterns are SDR. Switch HDR off.'
const isFullScreen = () => document.fullscreenElement !== null

/** A pattern for the eye over the whole page, one pixel of it on one pixel of the display. */
export const PatternPage = ({ pattern: key }: { pattern: string }) => {
  const pattern = visualPattern(key)!
  const canvas = useRef<HTMLCanvasElement>(null)
  const root = useRef<HTMLDivElement>(null)
  const [about, setAbout] = useState(true)
  const [size, setSize] = useState<readonly [number, number]>([0, 0])

  const { trouble, looks } = useScreenTrouble(IN_HDR, isFullScreen)
  useEffect(() => {
    if (looks > 0) setSize(sizeNow())
  }, [looks])

  useEffect(() => {
    const [w, h] = size
    const target = canvas.current
    const context = target?.getContext('2d')
    if (!target || !context || w < 1 || h < 1) return
    target.width = w
    target.height = h
    const still = window.matchMedia('(prefers-reduced-motion: reduce)').matches
    if (!pattern.adjustments || still) {
      context.putImageData(new ImageData(drawPattern(pattern, w, h).data, w, h), 0, 0)
      return
    }
    const surface = new CanvasSurface(context)
    let frame = requestAnimationFrame(function draw(now) {
      pattern.paint(surface, now / 1000)
      frame = requestAnimationFrame(draw)
    })
    return () => cancelAnimationFrame(frame)
  }, [pattern, size])

  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey) return
      const k = event.key.toLowerCase()
      if (k === 'f') void root.current?.requestFullscreen()
      else if (k === 'i') setAbout((a) => !a)
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])

  const at = VISUAL_PATTERNS.indexOf(pattern)
  const beside = (by: number) => VISUAL_PATTERNS[(at + by + VISUAL_PATTERNS.length) % VISUAL_PATTERNS.length]!
  return (
    <ThemeRoot theme="dark">
      <div ref={root} className="fixed inset-0 flex flex-col bg-black">
        {/* What is said of a pattern stands beside it, never on it; hidden, the pattern has the whole screen, pixel by pixel. */}
        <section aria-label="Pattern" className="min-h-0 flex-1">
          <canvas
            ref={canvas}
            role="img"
            aria-label={`${pattern.title}: ${pattern.tells}`}
            className={`block [image-rendering:pixelated] ${about ? 'size-full object-contain' : 'h-screen w-screen'}`}
            data-size={size.join('x')}
          />
        </section>
        {about && (
          <main className="grid max-h-[45vh] shrink-0 content-start gap-3 overflow-y-auto border-line border-t bg-ground p-5 text-ink">
            <h1 className="figure text-2xl">{pattern.title}</h1>
            <p>{pattern.tells}</p>
            {pattern.caution && <p className="text-lamp">{pattern.caution}</p>}
            {trouble.map((t) => (
              <p key={t} className="text-sm text-lamp">
                {t}
              </p>
            ))}
            <div className="flex flex-wrap items-center gap-x-5 gap-y-2 text-sm">
              <button
                type="button"
                className="act"
                onClick={() => {
                  setAbout(false)
                  void root.current?.requestFullscreen()
                }}
              >
                <span className="key">F</span>Full screen
              </button>
              <button type="button" className="act" onClick={() => setAbout(false)}>
                <span className="key">I</span>Hide this
              </button>
              <Link className="link" href={`/patterns/${beside(-1).key}`}>
                {beside(-1).title}
              </Link>
              <Link className="link" href={`/patterns/${beside(1).key}`}>
                {beside(1).title}
              </Link>
              <a
                className="link"
                href={`/patterns/${key}/png${size[0] ? `?w=${size[0]}&h=${size[1]}` : ''}`}
                download
              >
                PNG of {size[0] || PATTERN_SIZE.usual[0]} × {size[1] || PATTERN_SIZE.usual[1]}
              </a>
            </div>
          </main>
        )}
      </div>
    </ThemeRoot>
  )
}
