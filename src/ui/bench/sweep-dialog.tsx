'use client'

import { type FormEvent, useState } from 'react'
import type { SessionView } from '#server/views'
import { duration } from '#ui/desk'
import { Dialog } from './dialog'
import type { Send } from './use-session'

/** Any sweep, in this mode or in several, with the time that it takes on this meter. */
export const SweepDialog = ({
  view,
  error,
  send,
  onClose,
}: {
  view: SessionView
  error: string
  send: Send
  onClose: () => void
}) => {
  const [chosen, setChosen] = useState(view.sweeps[0]?.key ?? '')
  const [modes, setModes] = useState<readonly string[]>([])
  const times = Math.max(1, modes.length)
  const start = async (event: FormEvent) => {
    event.preventDefault()
    if (await send({ type: 'sweep', sweep: chosen, ...(modes.length ? { modes: [...modes] } : {}) }))
      onClose()
  }
  const check = async () => {
    if (await send({ type: 'check-feed' })) onClose()
  }
  return (
    <Dialog
      title="Read a sweep"
      note="Readings beside the route: they are kept and shown in the evidence."
      onClose={onClose}
    >
      <form onSubmit={start} className="grid gap-4">
        <div role="radiogroup" aria-label="Sweep" className="grid">
          {view.sweeps.map((s) => (
            <label key={s.key} className="rule-b grid grid-cols-[1.2rem_1fr_auto] gap-x-3 py-1.5">
              <input
                type="radio"
                name="sweep"
                value={s.key}
                checked={chosen === s.key}
                onChange={() => setChosen(s.key)}
                className="mt-1.5"
              />
              <span>
                {s.title}
                <span className="block text-sm text-faint">{s.tells}</span>
              </span>
              <span className="text-right text-sm text-soft">
                <span className="num">{s.patches * times}</span> patches
                <span className="block text-faint">{duration(s.seconds * times)}</span>
              </span>
            </label>
          ))}
        </div>
        {view.modes.length > 1 && (
          <fieldset>
            <legend className="mb-1 text-sm text-soft">
              Picture modes (none chosen: the one that is on, as it stands)
            </legend>
            <div className="flex flex-wrap gap-x-5 gap-y-1">
              {view.modes.map((m) => (
                <label key={m.value} className="flex items-center gap-2">
                  <input
                    type="checkbox"
                    checked={modes.includes(m.value)}
                    onChange={(e) =>
                      setModes(e.target.checked ? [...modes, m.value] : modes.filter((v) => v !== m.value))
                    }
                  />
                  {m.label}
                </label>
              ))}
            </div>
          </fieldset>
        )}
        <p className="text-sm text-faint">
          Full white over the whole screen is bright, and self-emissive panels keep images of still patterns:
          keep such sweeps short, with rests between them.
        </p>
        {error && (
          <p role="alert" className="text-lamp">
            {error}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
          <button type="submit" className="button">
            Start
          </button>
          <button type="button" className="link" onClick={check}>
            Check the signal again, five patches
          </button>
        </div>
      </form>
    </Dialog>
  )
}
