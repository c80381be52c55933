'use client'

import { useRouter } from 'next/navigation'
import { useId, useState, useTransition } from 'react'
import { type Answer, FormProblem } from '#ui/form'

/** How a draft becomes public: with a note for readers from the second revision on, and a sentence for the desk where rules warn. */
export const PublishForm = ({
  action,
  number,
  errors,
  warnings,
  published,
}: {
  action: (entry: { note: string; because: string; author: string }) => Promise<Answer>
  number: number
  errors: number
  warnings: number
  published: boolean
}) => {
  const id = useId()
  const router = useRouter()
  const [entry, setEntry] = useState({ note: '', because: '', author: '' })
  const [answer, setAnswer] = useState<Answer>({})
  const [busy, start] = useTransition()
  const field = (name: keyof typeof entry, label: string, hint: string) => (
    <div>
      <label htmlFor={`${id}-${name}`} className="mb-1 block text-sm text-soft">
        {label}
      </label>
      <input
        id={`${id}-${name}`}
        className="field"
        value={entry[name]}
        maxLength={1000}
        aria-invalid={answer.field === name || undefined}
        onChange={(e) => setEntry({ ...entry, [name]: e.target.value })}
      />
      <p className="text-faint text-sm">{hint}</p>
    </div>
  )
  if (published) return <p className="text-lg">What is public is this draft: nothing would change.</p>
  return (
    <form
      className="grid gap-3"
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const told = await action(entry)
          setAnswer(told)
          if (told.href) router.push(told.href)
        })
      }}
    >
      {number > 1 && field('note', 'Why there is a new revision', 'Readers see it.')}
      {warnings > 0 &&
        field(
          'because',
          `Why it is right to publish with ${warnings === 1 ? 'a warning' : `${warnings} warnings`}`,
          'For the desk alone.',
        )}
      {field('author', 'Your name', 'Who answers for it. May stay empty.')}
      <button type="submit" className="button justify-self-start" disabled={busy || errors > 0}>
        {busy ? 'Working …' : `Publish revision ${number}`}
      </button>
      <FormProblem text={answer.error} />
      <p className="text-faint text-sm">
        {errors > 0
          ? 'What is marked “error” has to be mended first.'
          : 'The page is public at once; earlier revisions stay as they are.'}
      </p>
    </form>
  )
}

/** Takes a guide back, with the reason that stands at its address. */
export const WithdrawForm = ({ action }: { action: (why: string) => Promise<Answer> }) => {
  const id = useId()
  const router = useRouter()
  const [why, setWhy] = useState('')
  const [answer, setAnswer] = useState<Answer>({})
  const [busy, start] = useTransition()
  return (
    <form
      className="mt-3 grid gap-3"
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          setAnswer(await action(why))
          router.refresh()
        })
      }}
    >
      <div>
        <label htmlFor={id} className="mb-1 block text-sm text-soft">
          Why it is withdrawn
        </label>
        <input
          id={id}
          className="field"
          value={why}
          maxLength={1000}
          onChange={(e) => setWhy(e.target.value)}
        />
        <p className="text-faint text-sm">The sentence stands at its address until it is published again.</p>
      </div>
      <button type="submit" className="button button-quiet justify-self-start" disabled={busy}>
        Withdraw the guide
      </button>
      <FormProblem text={answer.error} />
    </form>
  )
}
