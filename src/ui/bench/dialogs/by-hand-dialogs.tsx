'use client'

import { z } from 'zod'
import { typedNumber } from '#core/entry'
import { BitDepth, Range, type SeenSignal, SignalPrimaries, Transfer } from '#core/signal'
import { STEP_TITLE } from '#core/steps'
import type { SessionView } from '#server/view'
import { Field, FormProblem, useEntry } from '#ui/form'
import { NoteFields } from '#ui/notes'
import { stepAtHand } from '../evidence/panel-of-step'
import type { Send } from '../use-session'
import { Dialog } from './dialog'

interface ByHandDialog {
  readonly view: SessionView
  readonly error: string
  readonly send: Send
  readonly onClose: () => void
}

const PoweredEntry = z.object({
  minutes: typedNumber((text) => `“${text}” is not a number of minutes.`).pipe(
    z.number().min(0, 'Minutes cannot be negative.').max(100_000, 'That is longer than two months.'),
  ),
})

/** A note on the unit, at the step that is at hand. */
export const NoteDialog = ({ view, error, send, onClose }: ByHandDialog) => {
  const step = stepAtHand(view)
  return (
    <Dialog title="Note" note={`Kept with the unit, at ${STEP_TITLE[step]}.`} onClose={onClose}>
      <NoteFields
        place={{ unit: view.header.unitId, session: view.id, step }}
        label="Note"
        rows={4}
        error={error}
        // What was refused stands in `error`.
        saveText={async (text) => ((await send({ type: 'note', step, text })) ? {} : { error: ' ' })}
        onSaved={onClose}
      />
    </Dialog>
  )
}

/** When a display that no bench watches was switched on. */
export const PoweredDialog = ({ error, send, onClose }: ByHandDialog) => {
  const { form, submit, ready } = useEntry(PoweredEntry, { minutes: '0' }, async ({ minutes }) => {
    if (await send({ type: 'switched-on', minutes })) onClose()
    return undefined
  })
  return (
    <Dialog
      title="When was the display switched on?"
      note="A panel changes while it warms up: readings from the first half hour are marked."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4" noValidate>
        <Field form={form} name="minutes" label="Minutes ago" hint="0: just now.">
          {(props) => (
            <input {...props} className="field num" data-first inputMode="decimal" autoComplete="off" />
          )}
        </Field>
        <FormProblem text={error || undefined} />
        <button type="submit" className="button" disabled={!ready}>
          Save
        </button>
      </form>
    </Dialog>
  )
}

/** An answer of a select, of which the first says nothing. */
const none = <T,>(schema: z.ZodType<T>) =>
  z.string().transform((text, context): T | null => {
    if (text === '') return null
    const parsed = schema.safeParse(Number.isNaN(Number(text)) ? text : Number(text))
    if (parsed.success) return parsed.data
    context.addIssue({ code: 'custom', message: 'Choose one of the answers.' })
    return z.NEVER
  })
const size = typedNumber((text) => `“${text}” is not a number.`).pipe(z.number().int().min(16).max(16_384))
const whole = z
  .string()
  .transform((text) => (text.trim() === '' ? undefined : text))
  .pipe(size.optional())

const SignalEntry = z
  .object({
    width: whole,
    height: whole,
    bitDepth: none(BitDepth),
    range: none(Range),
    transfer: none(Transfer),
    primaries: none(SignalPrimaries),
  })
  .transform(
    (e): SeenSignal => ({ ...e, width: e.width ?? null, height: e.height ?? null, rate: null, chroma: null }),
  )

const QUESTIONS = [
  ['bitDepth', 'Bit depth', { 8: '8 bit', 10: '10 bit', 12: '12 bit' }],
  ['range', 'Range', { limited: 'limited (16 to 235)', full: 'full (0 to 255)' }],
  ['transfer', 'Transfer', { sdr: 'SDR', pq: 'PQ', hlg: 'HLG' }],
  ['primaries', 'Colour space', { bt709: 'BT.709', bt2020: 'BT.2020' }],
] as const

/** What the display's own signal page shows, typed by a person. */
export const SignalDialog = ({ view, error, send, onClose }: ByHandDialog) => {
  const { seenSignal } = view
  const text = (value: unknown) => (value === null || value === undefined ? '' : String(value))
  const begin = {
    width: text(seenSignal?.width),
    height: text(seenSignal?.height),
    bitDepth: text(seenSignal?.bitDepth),
    range: text(seenSignal?.range),
    transfer: text(seenSignal?.transfer),
    primaries: text(seenSignal?.primaries),
  }
  const { form, submit, ready } = useEntry(SignalEntry, begin, async (signal) => {
    const nothing = Object.values(signal).every((v) => v === null)
    if (await send({ type: 'seen-signal', signal: nothing ? null : signal })) onClose()
    return undefined
  })
  return (
    <Dialog
      title="What the display says of its signal"
      note="From its own signal page, if it has one. Any difference from what is sent is shown at once."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4" noValidate>
        <div className="grid grid-cols-2 gap-4">
          <Field form={form} name="width" label="Width, pixels">
            {(props) => (
              <input {...props} className="field num" data-first inputMode="numeric" autoComplete="off" />
            )}
          </Field>
          <Field form={form} name="height" label="Height, pixels">
            {(props) => <input {...props} className="field num" inputMode="numeric" autoComplete="off" />}
          </Field>
        </div>
        {QUESTIONS.map(([name, label, answers]) => (
          <Field key={name} form={form} name={name} label={label}>
            {(props) => (
              <select {...props}>
                <option value="">not shown</option>
                {Object.entries(answers).map(([value, words]) => (
                  <option key={value} value={value}>
                    {words}
                  </option>
                ))}
              </select>
            )}
          </Field>
        ))}
        <FormProblem text={error || undefined} />
        <button type="submit" className="button" disabled={!ready}>
          Save
        </button>
      </form>
    </Dialog>
  )
}
