'use client'

import { useEffect, useState } from 'react'
import type { FollowStep } from '#core/guide/formats'
import { keepOffline } from './keep-offline'
import { NOTHING, nextOf, type Progress, progressIn, withStep } from './progress'
import { type Standing, useStanding } from './standing'

/** How a value that is not simply copied travels, to whoever stands before another unit. */
const TRAVELS = {
  'start-here': 'Start here: right for our unit, near for yours.',
  'this-unit-only': 'This fits our unit alone.',
} as const

/** The way through the menu, step by step. */
const Way = ({ path }: { path: readonly string[] }) => (
  <ol className="flex flex-wrap gap-x-2 gap-y-1 text-lg text-soft">
    {path.map((page, i) => (
      <li key={page} className="flex gap-2">
        {i > 0 && <span aria-hidden="true">›</span>}
        {page}
      </li>
    ))}
  </ol>
)

/** How much has been gone through: a line that fills, without a colour of its own. */
const Bar = ({ of, gone }: { of: number; gone: number }) => (
  <svg
    viewBox="0 0 100 1"
    preserveAspectRatio="none"
    className="mt-1 h-1 w-full bg-line"
    role="img"
    aria-label={`${gone} of ${of} gone through`}
  >
    <rect width={(100 * gone) / Math.max(1, of)} height="1" className="fill-ink" />
  </svg>
)

/** Which revision this is, and whether it is still the one that is public. */
const Age = ({
  standing,
  revision,
  publishedOn,
}: {
  standing: Standing | undefined
  revision: number
  publishedOn: string
}) => (
  <div role="status" data-standing={standing?.kind} className="mb-3 text-sm">
    {standing?.kind === 'withdrawn' ? (
      <p className="border border-lamp p-3 text-lamp">
        This guide was withdrawn. {standing.why || 'It is no longer at its address.'} Do not use these values.
      </p>
    ) : standing?.kind === 'newer' ? (
      <p className="border border-lamp p-3 text-lamp">
        Revision {standing.revision} is out. This page shows revision {revision}, {publishedOn}.{' '}
        <button type="button" className="link" onClick={() => location.reload()}>
          Load the new one
        </button>
      </p>
    ) : (
      <p className="text-faint">
        Revision {revision}, {publishedOn}.
        {standing?.kind === 'unknown' && (
          <span className="text-lamp"> No connection: there may be a newer revision.</span>
        )}
      </p>
    )}
  </div>
)

/** One setting, as large as the screen of a phone allows. */
const One = ({ step }: { step: FollowStep }) => (
  <section aria-live="polite" aria-atomic="true" className="flex-1">
    <Way path={step.path} />
    <h2 className="mt-1 text-2xl">{step.label}</h2>
    <p className="figure mt-3 break-words text-7xl leading-none">{step.set}</p>
    <p className="mt-3 text-lg text-soft">
      Out of the box it shows <span className="text-ink">{step.outOfBox}</span>
      {step.transfer !== 'copy' && `. ${TRAVELS[step.transfer]}`}
    </p>
    <p className="mt-4 text-soft">{step.why}</p>
    {step.words && <p className="mt-3">{step.words}</p>}
    {step.shares && (
      <p className="mt-3 text-lamp">
        The display keeps one value for this and {step.shares}: set it again when you change.
      </p>
    )}
  </section>
)

/**
 * A guide’s settings one at a time, for a phone in front of the display. What is ticked is kept in this browser alone, for this revision and case.
 * In: where it is kept; steps; those of this unit alone, which are offered at the end.
 */
export const FollowAlong = ({
  slug,
  revision,
  publishedOn,
  keptAs,
  first,
  steps: plain,
  unitSteps,
}: {
  slug: string
  revision: number
  /** Day on which that became public, in words. */
  publishedOn: string
  keptAs: string
  /** What has to be so before the first setting; empty where nothing has. */
  first: string
  steps: readonly FollowStep[]
  unitSteps: readonly FollowStep[]
}) => {
  const standing = useStanding(slug, revision)
  const [progress, setProgress] = useState<Progress>()
  const [at, setAt] = useState<string>()
  const [unitToo, setUnitToo] = useState(false)
  const [offline, setOffline] = useState(false)
  useEffect(() => {
    setProgress(progressIn(localStorage.getItem(keptAs)))
    void keepOffline().then(setOffline)
  }, [keptAs])
  const steps = unitToo ? [...plain, ...unitSteps] : plain
  const controls = steps.map((s) => s.control)
  const now = progress ?? NOTHING
  const key = at ?? nextOf(controls, now)
  const place = key === undefined ? -1 : controls.indexOf(key)
  const step = steps[place]
  const keep = (next: Progress, goOn: string | undefined) => {
    localStorage.setItem(keptAs, JSON.stringify(next))
    setProgress(next)
    setAt(goOn)
  }
  const take = (as: 'done' | 'skipped') => {
    if (key !== undefined) keep(withStep(now, key, as), undefined)
  }
  if (!progress) return <p className="text-lg text-soft">{plain.length} settings, one at a time.</p>
  const skipped = steps.filter((s) => now.skipped.includes(s.control))
  return (
    <div className="flex min-h-[calc(100dvh-8.5rem)] flex-col gap-6" data-follow={offline ? 'kept' : 'open'}>
      <div>
        <Age standing={standing} revision={revision} publishedOn={publishedOn} />
        <p className="flex items-baseline justify-between text-soft">
          <span>{step ? `${place + 1} of ${steps.length}` : `All ${steps.length} gone through`}</span>
          <output className="text-faint text-sm">{offline ? 'Works without a network' : ''}</output>
        </p>
        <Bar of={steps.length} gone={steps.filter((s) => nextOf([s.control], now) === undefined).length} />
      </div>
      {step ? (
        <>
          {place === 0 && first && <p className="border border-lamp p-3 text-soft">{first}</p>}
          <One step={step} />
          <div className="sticky bottom-0 grid grid-cols-[1fr_auto] gap-3 bg-ground py-3">
            <button type="button" className="button py-4 text-xl" onClick={() => take('done')}>
              It is set
            </button>
            <button type="button" className="button button-quiet py-4" onClick={() => take('skipped')}>
              Skip
            </button>
            {place > 0 && (
              <button
                type="button"
                className="link justify-self-start py-2"
                onClick={() => {
                  const before = controls[place - 1]!
                  keep(withStep(now, before, 'open'), before)
                }}
              >
                One back
              </button>
            )}
          </div>
        </>
      ) : (
        <section className="grid gap-4">
          <h2 className="figure text-4xl">Done</h2>
          {skipped.length > 0 && (
            <div>
              <p className="text-soft">Skipped:</p>
              <ul>
                {skipped.map((s) => (
                  <li key={s.control} className="rule-b flex items-baseline gap-3 py-2">
                    <span className="flex-1">{s.label}</span>
                    <strong>{s.set}</strong>
                    <button
                      type="button"
                      className="link"
                      onClick={() => keep(withStep(now, s.control, 'open'), s.control)}
                    >
                      Set it
                    </button>
                  </li>
                ))}
              </ul>
            </div>
          )}
          {unitSteps.length > 0 && !unitToo && (
            <p className="text-soft">
              {unitSteps.length} more values fit our unit alone. Copied to another one they can make it worse.{' '}
              <button type="button" className="link" onClick={() => setUnitToo(true)}>
                Go through them anyway
              </button>
            </p>
          )}
          <button
            type="button"
            className="button button-quiet justify-self-start"
            onClick={() => {
              setUnitToo(false)
              keep(NOTHING, undefined)
            }}
          >
            Begin again
          </button>
        </section>
      )}
    </div>
  )
}
