'use client'

import Link from 'next/link'
import { useState } from 'react'
import type { StepView } from '#server/view'

const WORD: Readonly<Record<StepView['status'], string>> = {
  done: 'done',
  now: 'now',
  todo: 'to do',
  stale: 'stale',
  skipped: 'skipped',
  impossible: 'not possible',
}

const Dot = ({ status }: { status: StepView['status'] }) => (
  <svg viewBox="0 0 20 20" className="size-5 shrink-0" aria-hidden="true">
    {status === 'done' && <circle cx="10" cy="10" r="4.5" className="fill-ink" />}
    {status === 'todo' && (
      <circle cx="10" cy="10" r="4" className="fill-ground stroke-faint" strokeWidth="1.2" />
    )}
    {status === 'now' && (
      <circle cx="10" cy="10" r="7" className="fill-ground stroke-lamp" strokeWidth="3.5" />
    )}
    {status === 'stale' && (
      <circle
        cx="10"
        cy="10"
        r="5"
        className="fill-ground stroke-lamp"
        strokeWidth="1.5"
        strokeDasharray="3 2"
      />
    )}
    {(status === 'skipped' || status === 'impossible') && (
      <path d="M5 10h10" className="stroke-soft" strokeWidth="2" />
    )}
  </svg>
)

/** The steps of the job in order, and how each stands; one that is over shows its evidence. */
export const Route = ({
  session,
  steps,
  onShow,
}: {
  session: number
  steps: readonly StepView[]
  /** Shows the evidence of a step; undefined where there is none yet. */
  onShow: ((step: StepView['key']) => void) | undefined
}) => {
  const [open, setOpen] = useState(false)
  const at = steps.findIndex((s) => s.status === 'now')
  const now = steps[at] ?? steps.at(-1)
  return (
    <nav
      aria-label="Route"
      className="border-line max-bench:rule-b bench:min-h-0 bench:overflow-y-auto bench:border-r"
    >
      {/* On a phone the route is one line until it is opened. */}
      <button
        type="button"
        className="flex w-full items-center gap-3 px-4 py-2 text-left bench:hidden"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {now && <Dot status={now.status} />}
        <span className="font-bold">{now?.title}</span>
        <span className="ml-auto text-sm text-faint">
          {at < 0 ? 'all done' : `step ${at + 1} of ${steps.length}`}, {open ? 'fold' : 'unfold'}
        </span>
      </button>
      <ol
        className={`${open ? 'flex' : 'hidden bench:flex'} flex-wrap gap-x-5 gap-y-1 p-4 bench:flex-col bench:flex-nowrap bench:gap-0 bench:px-4 bench:py-4`}
      >
        {steps.map((s, i) => (
          <li
            key={s.key}
            aria-current={s.status === 'now' ? 'step' : undefined}
            className="relative flex shrink-0 gap-3 bench:min-h-9"
          >
            {i < steps.length - 1 && (
              <span
                aria-hidden="true"
                className="absolute top-6 bottom-0 left-[9.5px] hidden w-px bg-line bench:block"
              />
            )}
            <Dot status={s.status} />
            <span className="leading-snug bench:pb-1.5">
              <span
                className={
                  s.status === 'now'
                    ? 'block font-bold'
                    : s.status === 'todo'
                      ? 'block text-[0.95rem] text-faint'
                      : 'block text-[0.95rem] text-soft'
                }
              >
                {onShow && s.status !== 'todo' ? (
                  <button type="button" className="text-left hover:underline" onClick={() => onShow(s.key)}>
                    {s.title}
                  </button>
                ) : (
                  s.title
                )}
              </span>
              <span
                className={`block text-xs ${s.status === 'stale' ? 'text-lamp' : 'text-faint'} ${s.status === 'done' ? 'max-bench:hidden' : ''}`}
              >
                <span
                  className={
                    s.status === 'stale' || s.status === 'skipped' || s.status === 'impossible'
                      ? ''
                      : 'sr-only'
                  }
                >
                  {WORD[s.status]}
                  {s.note ? ': ' : ''}
                </span>
                {s.note}
              </span>
            </span>
          </li>
        ))}
      </ol>
      <p className={`${open ? '' : 'hidden bench:block'} px-4 pb-4 text-sm text-faint`}>
        <Link href={`/sessions/${session}/entered`} className="hover:underline">
          Entered by hand
        </Link>
      </p>
    </nav>
  )
}
