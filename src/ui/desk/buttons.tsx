'use client'

import { useRouter } from 'next/navigation'
import { useState, useTransition } from 'react'
import { type Answer, answered, FormProblem } from '#ui/form'

/** A button that does one thing and says where it could not. */
export const ActionButton = ({ action, label }: { action: () => Promise<Answer>; label: string }) => {
  const router = useRouter()
  const [answer, setAnswer] = useState<Answer>({})
  const [busy, start] = useTransition()
  const act = () =>
    start(async () => {
      const told: Answer = await answered(action())
      setAnswer(told)
      if (told.href) router.push(told.href)
      else if (!told.error) router.refresh()
    })
  return (
    <div className="grid gap-2">
      <button type="button" className="button button-quiet" disabled={busy} onClick={act}>
        {busy ? 'Working …' : label}
      </button>
      <FormProblem text={answer.error} />
    </div>
  )
}

/** A quiet button in a line of a list. */
export const LineButton = ({
  action,
  label,
  of,
  asks,
}: {
  action: () => Promise<Answer>
  label: string
  /** Of what, for those who do not see the line. */
  of: string
  /** What the button says before it does what cannot be undone: it is done at the second press. */
  asks?: string
}) => {
  const router = useRouter()
  const [error, setError] = useState('')
  const [asking, setAsking] = useState(false)
  const [busy, start] = useTransition()
  return (
    <>
      <button
        type="button"
        className="link text-soft"
        disabled={busy}
        onBlur={() => setAsking(false)}
        onClick={() => {
          if (asks && !asking) return setAsking(true)
          setAsking(false)
          start(async () => {
            const { error: wrong = '', href }: Answer = await answered(action())
            setError(wrong)
            if (href) router.push(href)
            else router.refresh()
          })
        }}
      >
        {asking ? asks : label}
        <span className="sr-only"> {of}</span>
      </button>
      {error && (
        <span role="alert" className="text-sm text-lamp">
          {error}
        </span>
      )}
    </>
  )
}
