'use client'

import { useState } from 'react'
import { GuideWords } from '#core/guide'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'

/** The words of a draft, and its publishing: what is published is what stands in the fields. */
export const GuideEditor = ({
  action,
  title,
  summary,
  stops,
  revision,
}: {
  action: (words: unknown, publish: boolean) => Promise<Answer>
  title: string
  summary: string
  stops: number
  revision: number
}) => {
  const words = { title, summary }
  const publishing = useEntry(GuideWords, words, (entry) => action(entry, true))
  const { form, problem } = publishing
  const save = form.handleSubmit(async (entry) => {
    const answer = await action(entry, false)
    if (answer.error) form.setError('root', { message: answer.error })
    else setSaved(answer.done ?? '')
  })
  const [saved, setSaved] = useState('')
  return (
    <form onSubmit={publishing.submit} className="grid gap-4" noValidate>
      <Field form={form} name="title" label="Title">
        {(props) => <input {...props} />}
      </Field>
      <Field
        form={form}
        name="summary"
        label="Summary, for the hurried"
        hint="A sentence or two: what to do, and whether it was worth it."
      >
        {(props) => <textarea {...props} rows={6} />}
      </Field>
      <FormProblem text={problem} />
      <div className="flex flex-wrap items-center gap-3">
        <button type="submit" className="button" disabled={!publishing.ready || stops > 0}>
          {publishing.busy ? 'Working …' : `Publish revision ${revision}`}
        </button>
        <button
          type="button"
          className="button button-quiet"
          disabled={!publishing.ready}
          onClick={() => void save()}
        >
          Save the text
        </button>
        <output className="text-sm text-faint">{saved}</output>
      </div>
      <p className="text-sm text-faint">
        {stops > 0
          ? 'What is marked “must” below has to be mended first.'
          : 'Publishing makes the page public at once; an earlier revision stays kept.'}
      </p>
    </form>
  )
}
