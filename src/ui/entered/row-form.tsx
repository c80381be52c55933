'use client'

import { RowEntry, UNMEASURED } from '#core/entry'
import { type Answer, Field, FormSubmit, useAdding } from '#ui/form'

const BEGIN = { kind: 'sound-output' as const, path: '', label: '', value: '', comesAs: '', reason: '' }

/** A row of a case that no meter reads. */
export const RowForm = ({ action }: { action: (entry: unknown) => Promise<Answer> }) => {
  const { form, submit, ready, problem, done } = useAdding(RowEntry, BEGIN, action)
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <Field form={form} name="kind" label="What it is about">
        {(props) => (
          <select {...props}>
            {Object.entries(UNMEASURED).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Field form={form} name="path" label="Menu path" hint="Sound › Output; empty: at the top">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="label" label="Label, as the menu shows it">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="value" label="Set to">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="comesAs" label="Factory default" hint="Empty where it was not noted">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <div className="sm:col-span-2">
        <Field form={form} name="reason" label="Why" hint="Readers see it, after “Not measured”.">
          {(props) => <textarea {...props} rows={2} />}
        </Field>
      </div>
      <FormSubmit label="Add this row" ready={ready} done={done} problem={problem} />
    </form>
  )
}
