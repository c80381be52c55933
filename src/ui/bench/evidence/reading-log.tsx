'use client'

import { type KeyboardEvent, useEffect, useRef } from 'react'
import type { LogEntry } from '#server/view'
import { Swatch } from '#ui/charts'
import { luminance, uncertainty } from '#ui/static'

/** Every reading as it arrives, the newest at the bottom, like the paper of an adding machine. */
export const ReadingLog = ({
  entries,
  count,
  hdr,
  open,
  onToggle,
  onTable,
  onOpen,
}: {
  entries: readonly LogEntry[]
  count: number
  /** White is told in ΔE ITP. */
  hdr: boolean
  open: boolean
  onToggle: () => void
  /** Opens all readings as a table. */
  onTable: () => void
  onOpen: (reading: number) => void
}) => {
  const end = useRef<HTMLDivElement>(null)
  const last = entries.at(-1)?.id
  useEffect(() => {
    const box = end.current
    if (open && last !== undefined && box) box.scrollTop = box.scrollHeight
  }, [last, open])
  const newest = entries.findLast((e) => e.kind === 'reading')
  return (
    <aside
      aria-label="Reading log"
      className="flex min-h-0 flex-col border-line bg-raised max-bench:border-t bench:border-l"
    >
      <button
        type="button"
        className="flex items-baseline gap-2 px-4 pt-4 pb-2 text-left"
        aria-expanded={open}
        onClick={onToggle}
      >
        <strong className="font-semibold">Reading log</strong>
        <span className="text-sm text-faint">
          {count} {count === 1 ? 'reading' : 'readings'}
        </span>
        <span className="ml-auto text-xs text-faint">{open ? 'hide' : 'show'}</span>
      </button>
      {open && (
        <>
          {count > 0 && (
            <p className="px-4 pb-1">
              <button type="button" className="link text-sm" onClick={onTable}>
                As a table
              </button>
            </p>
          )}
          <div
            className="num grid grid-cols-[1.4rem_1fr_4.4rem_3.4rem] px-4 pb-1 text-xs text-faint"
            aria-hidden="true"
          >
            <span />
            <span>patch</span>
            <span className="text-right">cd/m²</span>
            <span className="text-right">{hdr ? 'ΔE ITP' : 'ΔE00'}</span>
          </div>
          <div ref={end} className="min-h-0 flex-1 overflow-y-auto pb-3 max-bench:max-h-72">
            {entries.length === 0 && (
              <p className="px-4 py-3 text-sm text-faint">
                No readings yet. They appear here with the first sweep.
              </p>
            )}
            {entries.map((e) =>
              e.kind === 'mark' ? (
                <p
                  key={e.id}
                  className="mx-4 my-2 border-line border-y border-dashed py-1.5 text-xs text-soft"
                >
                  {e.text}
                </p>
              ) : (
                <button
                  key={e.id}
                  type="button"
                  data-reading={e.id}
                  // All readings are one stop of the Tab key; arrows lead from one to the next.
                  tabIndex={e === newest ? 0 : -1}
                  onKeyDown={moveFocus}
                  data-taken={e.takenAt}
                  onClick={() => onOpen(e.id)}
                  className="num grid w-full grid-cols-[1.4rem_1fr_4.4rem_3.4rem] items-center px-4 py-[3px] text-left text-sm hover:bg-ground"
                >
                  <Swatch className="size-3 rounded-[2px] border border-line" rgb={e.swatch} />
                  <span className={`leading-tight ${e.fault ? 'text-lamp' : 'text-soft'}`} title={e.patch}>
                    <span className="line-clamp-2">{e.patch}</span>
                    {(e.marks.length > 0 || e.samples > 1) && (
                      <span className="block font-sans text-[0.68rem] text-faint">
                        {[...e.marks, ...(e.samples > 1 ? [`mean of ${e.samples}`] : [])].join(', ')}
                      </span>
                    )}
                  </span>
                  <span className={`text-right leading-tight ${e.fault ? 'text-lamp' : ''}`}>
                    {e.fault ? 'bad' : e.luminance === undefined ? '–' : luminance(e.luminance)}
                    {!e.fault && e.sigma !== undefined && e.luminance !== undefined && (
                      <span className="block text-[0.68rem] text-faint">± {uncertainty(e.sigma)}</span>
                    )}
                  </span>
                  <span className="text-right text-soft">{e.whiteError?.toFixed(1) ?? '–'}</span>
                  {e.fault && <span className="sr-only">{e.fault}</span>}
                </button>
              ),
            )}
          </div>
        </>
      )}
    </aside>
  )
}

/** Moves the focus to the reading above or below, to the first or the last. */
const moveFocus = (event: KeyboardEvent<HTMLElement>) => {
  const all = [...event.currentTarget.parentElement!.querySelectorAll<HTMLElement>('[data-reading]')]
  const at = all.indexOf(event.currentTarget)
  const places: Readonly<Record<string, number>> = {
    ...{ ArrowUp: at - 1, ArrowDown: at + 1, Home: 0, End: all.length - 1 },
  }
  const to = places[event.key]
  if (at < 0 || to === undefined) return
  event.preventDefault()
  event.stopPropagation()
  all[to]?.focus()
}
