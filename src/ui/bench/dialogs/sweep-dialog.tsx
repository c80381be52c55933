'use client'

import { z } from 'zod'
import type { SessionView } from '#server/view'
import { FormProblem, useEntry } from '#ui/form'
import { duration } from '#ui/static'
import type { Send } from '../use-session'
import { Dialog } from './dialog'

const SweepEntry = z.object({ sweep: z.string(), modes: z.array(z.string()) })

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
  const begin = { sweep: view.sweeps[0]?.key ?? '', modes: [] as string[] }
  const { form, submit, ready } = useEntry(SweepEntry, begin, async ({ sweep, modes }) => {
    if (await send({ type: 'sweep', sweep, ...(modes.length ? { modes } : {}) })) onClose()
    return undefined
  })
  const times = Math.max(1, form.watch('modes').length)
  const check = async () => {
    if (await send({ type: 'check-feed' })) onClose()
  }
  return (
    <Dialog
      title="Read a sweep"
      note="Extra readings: they are kept and shown as evidence."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4">
        <div role="radiogroup" aria-label="Sweep" className="grid">
          {view.sweeps.map((s) => (
            <label key={s.key} className="rule-b grid grid-cols-[1.2rem_1fr_auto] gap-x-3 py-1.5">
              <input type="radio" value={s.key} className="mt-1.5" {...form.register('sweep')} />
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
                  <input type="checkbox" value={m.value} {...form.register('modes')} />
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
        <FormProblem text={error || undefined} />
        <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
          <button type="submit" className="button" disabled={!ready}>
            Start
          </button>
          <button type="button" className="link" onClick={check}>
            Check the signal again
          </button>
        </div>
      </form>
    </Dialog>
  )
}
