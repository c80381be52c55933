'use client'

import Link from 'next/link'
import { useState, useTransition } from 'react'
import { PANEL_LABEL } from '#core/entry'
import type { SimulationView, SimulationWish } from '#server/equipment'
import { type Answer, answered } from '#ui/form'

const SPEEDS = [
  [1, 'real time'],
  [4, '4 times'],
  [20, '20 times'],
  [0, 'as fast as it goes'],
] as const

/** The version that would come after one: its last number counted up. */
const nextFirmware = (version: string): string =>
  version.replace(/\d+(?=\D*$)/, (digits) => String(Number(digits) + 1).padStart(digits.length, '0'))

/** The simulated bench: which unit stands on it, how fast its clock runs, what goes wrong. */
export const SimulatedBench = ({
  view,
  action,
}: {
  view: SimulationView
  action: (wish: SimulationWish) => Promise<Answer>
}) => {
  const [error, setError] = useState<string>()
  const [busy, start] = useTransition()
  const ask = (wish: SimulationWish) =>
    start(async () => {
      const told: Answer = await answered(action(wish))
      setError(told.error)
    })
  return (
    <div className="grid gap-10">
      <p className="max-w-2xl text-soft">
        Invented displays with an invented meter, for learning and for trying things out. What is switched on
        here happens on the bench, in any session that uses it.
      </p>
      {error && (
        <p role="alert" className="text-lamp">
          {error}
        </p>
      )}
      <Shelf view={view} busy={busy} ask={ask} />
      <section>
        <h2 className="figure border-ink border-b pb-2 text-2xl">Clock</h2>
        <div
          role="radiogroup"
          aria-label="Speed of the clock"
          className="flex flex-wrap gap-x-8 gap-y-2 py-3"
        >
          {SPEEDS.map(([speed, text]) => (
            <label key={speed} className="flex items-center gap-2">
              <input
                type="radio"
                name="speed"
                checked={view.speed === speed}
                disabled={busy}
                onChange={() => ask({ what: 'speed', speed })}
              />
              {text}
            </label>
          ))}
        </div>
        <p className="text-sm text-faint">Bench seconds are counted the same, however fast they pass.</p>
      </section>
      <Faults view={view} busy={busy} ask={ask} />
    </div>
  )
}

interface Part {
  readonly view: SimulationView
  readonly busy: boolean
  readonly ask: (wish: SimulationWish) => void
}

/** The units that can be put on the stand. */
const Shelf = ({ view, busy, ask }: Part) => {
  const minutes = view.displayOnFor === null ? null : Math.floor(view.displayOnFor / 60)
  return (
    <section>
      <h2 className="figure border-ink border-b pb-2 text-2xl">On the shelf</h2>
      <ul>
        {view.shelf.map((u) => {
          const here = u.serial === view.onStand
          const id = view.known[u.serial]
          return (
            <li
              key={u.serial}
              className="rule-b grid gap-x-6 gap-y-1 py-3 sm:grid-cols-[1fr_9rem_8rem_13rem]"
            >
              <span>
                <strong className="font-semibold">
                  {u.maker} {u.model} {u.sizeInch}
                </strong>{' '}
                <span className="num text-sm text-faint">
                  {u.serial}, firmware {u.firmware}
                </span>
              </span>
              <span className="text-soft">{PANEL_LABEL[u.panelKind]}</span>
              <span>
                {id ? (
                  <Link className="link" href={`/units/${id}`}>
                    added
                  </Link>
                ) : (
                  <span className="text-faint">not added yet</span>
                )}
              </span>
              {here ? (
                <span className="flex flex-wrap gap-x-4 text-soft">
                  On the stand, on for {minutes} min
                  <button
                    type="button"
                    className="link"
                    disabled={busy}
                    onClick={() => ask({ what: 'update', firmware: nextFirmware(u.firmware) })}
                  >
                    Update to {nextFirmware(u.firmware)}
                  </button>
                  <button
                    type="button"
                    className="link"
                    disabled={busy}
                    onClick={() => ask({ what: minutes !== null && minutes < 45 ? 'warm' : 'cold' })}
                  >
                    {minutes !== null && minutes < 45 ? 'Warm it up' : 'Switch it off and on'}
                  </button>
                </span>
              ) : (
                <span>
                  <button
                    type="button"
                    className="link"
                    disabled={busy}
                    onClick={() => ask({ what: 'stand', serial: u.serial })}
                  >
                    Put it on the stand
                  </button>
                </span>
              )}
            </li>
          )
        })}
      </ul>
    </section>
  )
}

/** What can be made to go wrong. */
const Faults = ({ view, busy, ask }: Part) => (
  <section>
    <h2 className="figure flex items-baseline justify-between border-ink border-b pb-2 text-2xl">
      What goes wrong
      {view.faults.length > 0 && (
        <button
          type="button"
          className="link font-sans text-base"
          disabled={busy}
          onClick={() => ask({ what: 'mend' })}
        >
          Fix everything
        </button>
      )}
    </h2>
    <ul>
      {view.kinds.map(({ kind, meaning, on }) => (
        <li key={kind} className="rule-b grid items-center gap-x-6 py-2 sm:grid-cols-[1fr_20rem]">
          <span className={on === null ? '' : 'font-semibold'}>{meaning}</span>
          <span className="flex items-center justify-end gap-5 text-sm">
            <span className="mr-auto text-lamp">
              {on === null ? '' : on === 0 ? 'until it is fixed' : on === 1 ? 'next time' : `${on} times`}
            </span>
            {on === null ? (
              <>
                <button
                  type="button"
                  className="link"
                  disabled={busy}
                  onClick={() => ask({ what: 'fault', kind, times: 'once' })}
                >
                  Once<span className="sr-only">: {meaning}</span>
                </button>
                <button
                  type="button"
                  className="link"
                  disabled={busy}
                  onClick={() => ask({ what: 'fault', kind, times: 'always' })}
                >
                  Until fixed<span className="sr-only">: {meaning}</span>
                </button>
              </>
            ) : (
              <button
                type="button"
                className="link"
                disabled={busy}
                onClick={() => ask({ what: 'fault', kind, times: 'off' })}
              >
                Fix<span className="sr-only">: {meaning}</span>
              </button>
            )}
          </span>
        </li>
      ))}
    </ul>
  </section>
)
