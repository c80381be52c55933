'use client'

import { EQUIPMENT_QUESTIONS, type Equipment, UsualEquipmentEntry } from '#core/entry'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'
import { options } from './options'

/** Answers to a question of equipment: a bench only where there is one. */
export const answersOf = (name: keyof typeof EQUIPMENT_QUESTIONS, hasBench: boolean) =>
  Object.fromEntries(
    Object.entries(EQUIPMENT_QUESTIONS[name].answers).filter(([who]) => hasBench || who !== 'bench'),
  )

/** The equipment that every case begins with. */
export const UsualEquipmentForm = ({
  action,
  equipment,
  hasBench,
}: {
  action: (entry: unknown) => Promise<Answer>
  equipment: Equipment
  hasBench: boolean
}) => {
  const { display, pattern, meter, meterName, scatter } = equipment
  const begin = {
    ...{ display, pattern, meter, meterName },
    scatter: scatter ? String(Math.round(1e6 * scatter) / 1e4) : '',
  }
  const { form, submit, ready, busy, done, problem } = useEntry(UsualEquipmentEntry, begin, (_, typed) =>
    action(typed),
  )
  const byHand = form.watch('meter') === 'hand'
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      {(['display', 'pattern', 'meter'] as const).map((name) => (
        <Field key={name} form={form} name={name} label={EQUIPMENT_QUESTIONS[name].question}>
          {(props) => <select {...props}>{options(answersOf(name, hasBench))}</select>}
        </Field>
      ))}
      {byHand && (
        <>
          <Field
            form={form}
            name="meterName"
            label="Meter"
            hint="Maker, model, serial. It is stored with every reading."
          >
            {(props) => <input {...props} autoComplete="off" />}
          </Field>
          <Field
            form={form}
            name="scatter"
            label="Scatter of one reading, %"
            hint="Standard deviation, from its data sheet or your own trial. Empty: 0.2 % until repeated readings of the same light show it."
          >
            {(props) => <input {...props} className="field num" autoComplete="off" inputMode="decimal" />}
          </Field>
        </>
      )}
      <FormProblem text={problem} />
      <div className="flex flex-wrap items-center gap-4">
        <button type="submit" className="button" disabled={!ready}>
          {busy ? 'Saving …' : 'Save'}
        </button>
        <output className="text-sm text-faint">{done}</output>
      </div>
    </form>
  )
}
