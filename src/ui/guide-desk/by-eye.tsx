'use client'

import { useRouter } from 'next/navigation'
import { useId, useState, useTransition } from 'react'
import type { ByEyeRow } from '#server/session'
import { type Answer, answered, FormProblem } from '#ui/form'

/** The settings of a display as a person reads them off its menu, in menu order, for a guide by eye. */
export const ByEyeForm = ({
  rows,
  action,
}: {
  rows: readonly ByEyeRow[]
  action: (values: Record<string, string>) => Promise<Answer>
}) => {
  const id = useId()
  const router = useRouter()
  const [values, setValues] = useState<Record<string, string>>(() =>
    Object.fromEntries(rows.map((r) => [r.key, String(r.value)])),
  )
  const [answer, setAnswer] = useState<Answer>({})
  const [busy, start] = useTransition()
  const set = (key: string, value: string) => setValues((all) => ({ ...all, [key]: value }))
  return (
    <form
      noValidate
      onSubmit={(e) => {
        e.preventDefault()
        start(async () => {
          const told: Answer = await answered(action(values))
          setAnswer(told)
          if (told.href) router.push(told.href)
        })
      }}
    >
      <ul className="mb-4 max-w-2xl border-ink border-t">
        {rows.map((r) => (
          <li key={r.key} className="rule-b grid grid-cols-[minmax(0,1fr)_11rem] items-center gap-4 py-1.5">
            <label htmlFor={`${id}-${r.key}`}>
              <span className="text-faint text-sm">{r.path} › </span>
              {r.label}
            </label>
            {r.choices ? (
              <select
                id={`${id}-${r.key}`}
                className="field"
                value={values[r.key]}
                onChange={(e) => set(r.key, e.target.value)}
              >
                {r.choices.map((c) => (
                  <option key={c.value} value={c.value}>
                    {c.label}
                  </option>
                ))}
              </select>
            ) : (
              <input
                id={`${id}-${r.key}`}
                className="field num"
                type="number"
                {...r.range}
                value={values[r.key]}
                onChange={(e) => set(r.key, e.target.value)}
              />
            )}
          </li>
        ))}
      </ul>
      <button type="submit" className="button" disabled={busy}>
        {busy ? 'Working …' : 'Compose a guide by eye'}
      </button>
      <FormProblem text={answer.error} />
    </form>
  )
}
