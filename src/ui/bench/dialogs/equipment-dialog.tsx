'use client'

import Link from 'next/link'
import { z } from 'zod'
import { EQUIPMENT_QUESTIONS, EquipmentEntry } from '#core/entry'
import type { SessionView } from '#server/view'
import { Field, FormProblem, useEntry } from '#ui/form'
import type { Send } from '../use-session'
import { Dialog } from './dialog'

/** Equipment as its window holds it: a select knows text only. */
const WindowEntry = z
  .object({
    ...EquipmentEntry.shape,
    meterSlot: z.string().transform((slot) => slot || null),
    correctionId: z.string().transform((id) => Number(id) || null),
  })
  .pipe(EquipmentEntry)

/** Who does each device's part, and how the meter is corrected. */
export const EquipmentDialog = ({
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
  const { equipment } = view
  const begin = {
    ...equipment,
    meterSlot: equipment.meterSlot ?? '',
    correctionId: String(equipment.correctionId ?? ''),
  }
  const { form, submit, ready } = useEntry(WindowEntry, begin, async (entry) => {
    if (await send({ type: 'equip', equipment: entry })) onClose()
    return undefined
  })
  const [pattern, meter] = form.watch(['pattern', 'meter'])
  const select = (name: keyof typeof EQUIPMENT_QUESTIONS) => {
    const { question, answers } = EQUIPMENT_QUESTIONS[name]
    return (
      <Field form={form} name={name} label={question}>
        {(props) => (
          <select {...props}>
            {Object.entries(answers)
              .filter(([value]) => view.hasBench || value !== 'bench')
              .map(([value, text]) => (
                <option key={value} value={value}>
                  {text}
                </option>
              ))}
          </select>
        )}
      </Field>
    )
  }
  return (
    <Dialog
      title="Equipment"
      note="A person can stand in for any device; the loop stays the same."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4">
        {select('display')}
        {select('pattern')}
        {pattern === 'page' && (
          <p className="text-sm text-soft">
            Open{' '}
            <Link className="link" href={`/sessions/${view.id}/patches`} target="_blank">
              the patch page
            </Link>{' '}
            on the display under test, full screen. A browser shows SDR with 8 bit and through the computer’s
            own colour management; it cannot show HDR, nor codes below black or above white.
          </p>
        )}
        {select('meter')}
        {meter === 'hand' ? (
          <Field form={form} name="meterName" label="Which meter, with its serial">
            {(props) => <input {...props} maxLength={120} autoComplete="off" />}
          </Field>
        ) : (
          <Field form={form} name="meterSlot" label="Correction in the meter">
            {(props) => (
              <select {...props}>
                <option value="">the one for this kind of panel</option>
                <option value="none">none</option>
                {view.slots.map((s) => (
                  <option key={s.slot} value={s.slot}>
                    {s.name}
                  </option>
                ))}
              </select>
            )}
          </Field>
        )}
        <Field form={form} name="correctionId" label="Four-colour correction">
          {(props) => (
            <select {...props}>
              <option value="">none</option>
              {view.corrections.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <p className="text-sm text-faint">
          <Link className="link" href={`/corrections/new?session=${view.id}`}>
            Make a four-colour correction
          </Link>{' '}
          against a reference instrument.
        </p>
        <FormProblem text={error || undefined} />
        <button type="submit" className="button" disabled={!ready}>
          Save
        </button>
      </form>
    </Dialog>
  )
}
