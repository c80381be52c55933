'use client'

import Link from 'next/link'
import { PolicyEntry, policyTyped } from '#core/entry'
import { POLICY_QUESTIONS, type Policy, type PolicyQuestion } from '#core/judge'
import { sayTone } from '#core/target'
import type { PolicyView } from '#server/equipment'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'

const ROOMS = [
  ['dark', 'SDR, dark room'],
  ['bright', 'SDR, bright room'],
  ['game', 'SDR game'],
  ['desktop', 'Desktop'],
] as const
const QUESTIONS = Object.entries(POLICY_QUESTIONS) as Array<
  [PolicyQuestion, { question: string; answers: Readonly<Record<string, string>> }]
>

/** What setting by hand has to gain. */
const WORTH = 'Stop by hand below'

/** All policies, one of them shown whole; a copy can be changed. */
export const PolicyDesk = ({
  policies,
  shown,
  copy,
  save,
  remove,
}: {
  policies: readonly PolicyView[]
  shown: PolicyView
  copy: () => Promise<void>
  save: (entry: unknown) => Promise<Answer>
  remove: () => Promise<void>
}) => (
  <div className="mt-8 grid gap-x-14 gap-y-8 md:grid-cols-[15rem_1fr]">
    <nav aria-label="Policies">
      <ul>
        {policies.map(({ policy, shipped }) => (
          <li key={policy.key} className="rule-b">
            <Link
              href={`/policies?policy=${policy.key}`}
              aria-current={policy.key === shown.policy.key ? 'page' : undefined}
              className={`block py-2.5 hover:underline ${policy.key === shown.policy.key ? 'font-bold' : ''}`}
            >
              {policy.name}
              <span className="block text-sm font-normal text-faint">
                {shipped ? 'comes with Wexmar' : 'your own'}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </nav>
    <div className="grid content-start gap-6">
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-3">
        <h2 className="figure text-3xl">{shown.policy.name}</h2>
        <form action={copy}>
          <button type="submit" className="button button-quiet min-h-9 text-sm">
            Copy and change
          </button>
        </form>
        {!shown.shipped && (
          <form action={remove}>
            <button type="submit" className="link text-sm">
              Delete
            </button>
          </form>
        )}
      </div>
      {shown.shipped ? <Told policy={shown.policy} /> : <Edited policy={shown.policy} save={save} />}
    </div>
  </div>
)

const Told = ({ policy }: { policy: Policy }) => (
  <>
    <p className="max-w-2xl text-lg text-soft">{policy.note}</p>
    <table className="quiet-table max-w-2xl">
      <caption className="sr-only">Targets</caption>
      <thead>
        <tr>
          <th scope="col">Case</th>
          <th scope="col" className="n">
            White, cd/m²
          </th>
          <th scope="col" className="n">
            Gamma
          </th>
          <th scope="col" className="n">
            White point
          </th>
        </tr>
      </thead>
      <tbody>
        {ROOMS.map(([room, label]) => (
          <tr key={room}>
            <th scope="row" className="text-ink!">
              {label}
            </th>
            <td className="n">{policy.luminance[room]}</td>
            <td className="n">{sayTone(policy.tone[room])}</td>
            <td className="n">
              {policy.white.name}
              <span className="max-sm:hidden">
                {' '}
                ({policy.white.x}, {policy.white.y})
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
    <dl className="grid max-w-2xl grid-cols-[minmax(0,14rem)_minmax(0,1fr)] gap-x-6">
      <div className="rule-b col-span-2 grid grid-cols-subgrid py-2">
        <dt className="text-soft">{WORTH}</dt>
        <dd>
          ΔE00 <span className="num">{policy.worthAMinute}</span> a minute
        </dd>
      </div>
      {QUESTIONS.map(([key, { question, answers }]) => (
        <div key={key} className="rule-b col-span-2 grid grid-cols-subgrid py-2">
          <dt className="text-soft">{question}</dt>
          <dd>{answers[policy[key]]}</dd>
        </div>
      ))}
    </dl>
  </>
)

const Edited = ({ policy, save }: { policy: Policy; save: (entry: unknown) => Promise<Answer> }) => {
  const { form, submit, ready, busy, done, problem } = useEntry(
    PolicyEntry,
    policyTyped(policy),
    (_, typed) => save(typed),
  )
  return (
    <form onSubmit={submit} className="grid max-w-2xl gap-5" noValidate>
      <Field form={form} name="name" label="Name">
        {(props) => <input {...props} autoComplete="off" maxLength={60} />}
      </Field>
      <Field form={form} name="note" label="What it is for">
        {(props) => <textarea {...props} rows={2} maxLength={400} />}
      </Field>
      <table className="quiet-table">
        <caption className="sr-only">Targets</caption>
        <thead>
          <tr>
            <th scope="col">Case</th>
            <th scope="col">White, cd/m²</th>
            <th scope="col">Gamma, or bt1886</th>
          </tr>
        </thead>
        <tbody>
          {ROOMS.map(([room, label]) => (
            <tr key={room}>
              <th scope="row" className="text-ink!">
                {label}
              </th>
              <td>
                <Field form={form} name={`luminance.${room}`} label={`White, ${label}, cd/m²`} inTable>
                  {(props) => <input {...props} className={NUMBER} autoComplete="off" inputMode="decimal" />}
                </Field>
              </td>
              <td>
                <Field form={form} name={`tone.${room}`} label={`Gamma, ${label}`} inTable>
                  {(props) => <input {...props} className={NUMBER} autoComplete="off" />}
                </Field>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="grid grid-cols-[1fr_7rem_7rem] gap-4">
        <Field form={form} name="white.name" label="White point: its name">
          {(props) => <input {...props} className="field min-h-9!" autoComplete="off" />}
        </Field>
        {(['x', 'y'] as const).map((axis) => (
          <Field key={axis} form={form} name={`white.${axis}`} label={axis}>
            {(props) => <input {...props} className={NUMBER} autoComplete="off" inputMode="decimal" />}
          </Field>
        ))}
      </div>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field form={form} name="worthAMinute" label={`${WORTH} a gain of, ΔE00 a minute`}>
          {(props) => <input {...props} className={NUMBER} autoComplete="off" inputMode="decimal" />}
        </Field>
        {QUESTIONS.map(([key, { question, answers }]) => (
          <Field key={key} form={form} name={key} label={question}>
            {(props) => (
              <select {...props} className="field min-h-9!">
                {Object.entries(answers).map(([value, text]) => (
                  <option key={value} value={value}>
                    {text}
                  </option>
                ))}
              </select>
            )}
          </Field>
        ))}
      </div>
      <FormProblem text={problem} />
      <p role="status" className="min-h-6 text-soft">
        {done}
      </p>
      <button type="submit" className="button w-fit" disabled={!ready}>
        {busy ? 'Saving …' : 'Save the policy'}
      </button>
    </form>
  )
}

const NUMBER = 'field num min-h-9!'
