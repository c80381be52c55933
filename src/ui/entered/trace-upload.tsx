'use client'

import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { TraceEntry } from '#core/entry'
import { type Answer, Field, FormSubmit, useEntry } from '#ui/form'

/** Sends a trace. Out: what was found in it, or what is wrong. */
const sendTrace = async (session: number, from: string, to: string, file: File): Promise<Answer> => {
  const form = new FormData()
  form.set('from', from)
  form.set('to', to)
  form.set('name', file.name)
  form.set('file', file)
  try {
    const response = await fetch(`/api/sessions/${session}/traces`, { method: 'POST', body: form })
    const body = (await response.json()) as { error?: string; field?: string; done?: string }
    return response.ok
      ? { done: body.done ?? '' }
      : { error: body.error ?? 'The trace was refused. Nothing was saved.', field: body.field }
  } catch {
    return { error: 'The server did not answer. Nothing was saved; try again in a moment.' }
  }
}

/** A trace of a light sensor: the file, and the two greys that the screen goes between. */
export const TraceUpload = ({ session }: { session: number }) => {
  const router = useRouter()
  const [file, setFile] = useState<File>()
  const [missing, setMissing] = useState(false)
  const { form, submit, ready, busy, problem, done } = useEntry(
    TraceEntry,
    { from: '0', to: '100' },
    async (_, typed) => {
      setMissing(!file)
      if (!file) return { error: 'Choose the file first.' }
      const answer = await sendTrace(session, typed.from, typed.to, file)
      if (!answer.error) router.refresh()
      return answer
    },
  )
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <label className="grid gap-1 sm:col-span-2">
        <span className="text-sm text-soft">CSV with two columns, time with its unit and light</span>
        <input
          type="file"
          accept=".csv,.txt,text/csv,text/plain"
          className="field"
          aria-invalid={missing || undefined}
          onChange={(e) => {
            setMissing(false)
            setFile(e.target.files?.[0])
          }}
        />
      </label>
      <Field form={form} name="from" label="Grey at its beginning, %">
        {(props) => <input {...props} inputMode="decimal" autoComplete="off" />}
      </Field>
      <Field form={form} name="to" label="Grey that it goes to, %">
        {(props) => <input {...props} inputMode="decimal" autoComplete="off" />}
      </Field>
      <FormSubmit label={busy ? 'Working …' : 'Add this trace'} ready={ready} done={done} problem={problem} />
    </form>
  )
}
