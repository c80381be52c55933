'use client'

import { LatencyEntry } from '#core/entry'
import type { EnteredView } from '#server/evidence'
import { type Answer, Field, FormSubmit, useAdding } from '#ui/form'

const POSITION = { top: 'Top', middle: 'Middle', bottom: 'Bottom' } as const

/** Delays that another instrument showed: at which rate, where on the screen, and where the controls stood that claim to shorten it. */
export const LatencyForm = ({
  controls,
  action,
}: {
  controls: EnteredView['controls']
  action: (entry: unknown) => Promise<Answer>
}) => {
  const begin = {
    rate: '60',
    position: 'middle' as const,
    times: '',
    settings: Object.fromEntries(controls.map((c) => [c.key, c.value])),
  }
  const { form, submit, ready, problem, done } = useAdding(LatencyEntry, begin, action)
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <Field form={form} name="rate" label="Rate, Hz">
        {(props) => <input {...props} inputMode="decimal" autoComplete="off" />}
      </Field>
      <Field form={form} name="position" label="Where on the screen">
        {(props) => (
          <select {...props}>
            {Object.entries(POSITION).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
      </Field>
      {controls.map((c) => (
        <Field key={c.key} form={form} name={`settings.${c.key}`} label={[...c.path, c.label].join(' › ')}>
          {(props) =>
            c.choices ? (
              <select {...props}>
                {c.choices.map((o) => (
                  <option key={o.value} value={o.value}>
                    {o.label}
                  </option>
                ))}
              </select>
            ) : (
              <input {...props} inputMode="decimal" autoComplete="off" />
            )
          }
        </Field>
      ))}
      <div className="sm:col-span-2">
        <Field form={form} name="times" label="Times, ms" hint="One or many, typed or pasted: 31.2 30.8 29.9">
          {(props) => <textarea {...props} className="field num" rows={3} />}
        </Field>
      </div>
      <FormSubmit label="Keep these times" ready={ready} done={done} problem={problem} />
    </form>
  )
}
