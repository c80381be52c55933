'use client'

import { useRouter } from 'next/navigation'
import { PublishEntry, ReviewEntry, type SeenDraft, WithdrawEntry } from '#core/guide/formats'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'
import { useDeskWords } from './words'

/** A date and time of this browser's clock, as every clock has it; empty stays empty. */
const everywhere = (at: string): string => (at ? new Date(at).toISOString() : '')

/** How a draft becomes public: with a note for readers from the second revision on, and a sentence for the desk where rules warn; now or at a time. */
export const PublishForm = ({
  action,
  number,
  errors,
  warnings,
  published,
}: {
  action: (entry: PublishEntry) => Promise<Answer>
  number: number
  errors: number
  warnings: number
  published: boolean
}) => {
  const router = useRouter()
  const { saved } = useDeskWords()
  const { form, submit, ready, busy, done, problem } = useEntry(
    PublishEntry,
    { note: '', because: '', author: '', at: '' },
    async (entry) => {
      const unsaved = await saved()
      if (unsaved) return { error: unsaved }
      const answer = await action({ ...entry, at: everywhere(entry.at) })
      if (!answer.error) router.refresh()
      return answer
    },
  )
  const later = form.watch('at')
  if (published)
    return <p className="text-lg">This draft is what is public now: publishing would change nothing.</p>
  return (
    <form className="grid gap-3" noValidate onSubmit={submit}>
      {number > 1 && (
        <Field form={form} name="note" label="Why there is a new revision" hint="Readers see it.">
          {(props) => <input {...props} />}
        </Field>
      )}
      {warnings > 0 && (
        <Field
          form={form}
          name="because"
          label={`Why it is right to publish with ${warnings === 1 ? 'a warning' : `${warnings} warnings`}`}
          hint="For editors only."
        >
          {(props) => <input {...props} />}
        </Field>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <Field
          form={form}
          name="author"
          label="Your name"
          hint="Who is responsible for it. May be left empty."
        >
          {(props) => <input {...props} />}
        </Field>
        <Field form={form} name="at" label="When" hint="Empty: at once.">
          {(props) => <input {...props} type="datetime-local" />}
        </Field>
      </div>
      <button type="submit" className="button justify-self-start" disabled={!ready || errors > 0}>
        {busy ? 'Working …' : later ? `Publish revision ${number} then` : `Publish revision ${number}`}
      </button>
      <FormProblem text={problem} />
      <p className="text-faint text-sm" role="status">
        {done ||
          (errors > 0
            ? 'Fix what is marked “error” first.'
            : later
              ? 'The draft becomes public as it is now; what is written after this is not part of it.'
              : 'The page is public at once; earlier revisions stay as they are.')}
      </p>
    </form>
  )
}

/** What somebody says of a draft: that it is to be looked at, is approved, or needs changes. */
export const ReviewForm = ({
  action,
  asked,
}: {
  action: (seen: SeenDraft, entry: ReviewEntry) => Promise<Answer>
  /** Somebody has asked for a review of the draft as it is. */
  asked: boolean
}) => {
  const router = useRouter()
  const { saved, seen } = useDeskWords()
  const { form, submit, ready, problem } = useEntry(
    ReviewEntry,
    { kind: asked ? 'approved' : 'asked', author: '', note: '' },
    async (entry) => {
      const unsaved = await saved()
      if (unsaved) return { error: unsaved }
      const answer = await action(seen(), entry)
      if (!answer.error) {
        form.reset({ kind: 'approved', author: '', note: '' })
        router.refresh()
      }
      return answer
    },
  )
  return (
    <form className="mt-3 grid gap-3" noValidate onSubmit={submit}>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field form={form} name="kind" label="What you say">
          {(props) => (
            <select {...props}>
              <option value="asked">Please review it</option>
              <option value="approved">I approve it</option>
              <option value="changes">It needs changes</option>
            </select>
          )}
        </Field>
        <Field form={form} name="author" label="Your name">
          {(props) => <input {...props} />}
        </Field>
      </div>
      <Field form={form} name="note" label="Note for the desk">
        {(props) => <input {...props} />}
      </Field>
      <button type="submit" className="button button-quiet justify-self-start" disabled={!ready}>
        Submit review
      </button>
      <FormProblem text={problem} />
    </form>
  )
}

/** Takes a guide back, with the reason that stands at its address. */
export const WithdrawForm = ({ action }: { action: (why: string) => Promise<Answer> }) => {
  const router = useRouter()
  const { form, submit, ready, problem } = useEntry(WithdrawEntry, { why: '' }, async ({ why }) => {
    const answer = await action(why)
    router.refresh()
    return answer
  })
  return (
    <form className="mt-3 grid gap-3" noValidate onSubmit={submit}>
      <Field
        form={form}
        name="why"
        label="Why it is withdrawn"
        hint="The sentence is shown at its address until the guide is published again."
      >
        {(props) => <input {...props} />}
      </Field>
      <button type="submit" className="button button-quiet justify-self-start" disabled={!ready}>
        Withdraw the guide
      </button>
      <FormProblem text={problem} />
    </form>
  )
}
