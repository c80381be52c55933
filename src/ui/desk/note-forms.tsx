'use client'

import { useRouter } from 'next/navigation'
import { VariantEntry } from '#core/entry'
import { FirmwareEntry } from '#core/guide/formats'
import { type Answer, Field, FormProblem, useAdding } from '#ui/form'
import { NoteFields } from '#ui/notes'

/** Writes down a note on a unit. */
export const NoteForm = ({ unit, action }: { unit: number; action: (entry: unknown) => Promise<Answer> }) => {
  const router = useRouter()
  return (
    <NoteFields
      place={{ unit }}
      label="Note"
      rows={2}
      saveText={(text) => action({ text })}
      onSaved={() => router.refresh()}
    />
  )
}

/** Adds a size in which a model is sold. */
export const VariantForm = ({ action }: { action: (entry: unknown) => Promise<Answer> }) => {
  const begin = { sizeInch: '', region: '' }
  const { form, submit, ready, problem } = useAdding(VariantEntry, begin, action)
  return (
    <form onSubmit={submit} className="mt-3 flex flex-wrap items-start gap-3" noValidate>
      <div className="w-28">
        <Field form={form} name="sizeInch" label="Diagonal, inch">
          {(props) => <input {...props} className="field num" inputMode="decimal" autoComplete="off" />}
        </Field>
      </div>
      <div className="w-40">
        <Field form={form} name="region" label="Region">
          {(props) => <input {...props} autoComplete="off" />}
        </Field>
      </div>
      <button type="submit" className="button button-quiet mt-6" disabled={!ready}>
        Add this size
      </button>
      <FormProblem text={problem} />
    </form>
  )
}

/** Adds a firmware version that a model has. */
export const FirmwareForm = ({ action }: { action: (entry: unknown) => Promise<Answer> }) => {
  const begin = { version: '' }
  const { form, submit, ready, problem } = useAdding(FirmwareEntry, begin, action)
  return (
    <form onSubmit={submit} className="mt-3 flex flex-wrap items-start gap-3" noValidate>
      <div className="w-40">
        <Field form={form} name="version" label="Newer firmware">
          {(props) => <input {...props} className="field num" autoComplete="off" />}
        </Field>
      </div>
      <button type="submit" className="button button-quiet mt-6" disabled={!ready}>
        Add this firmware
      </button>
      <FormProblem text={problem} />
    </form>
  )
}
