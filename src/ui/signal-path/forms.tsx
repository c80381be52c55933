'use client'

import { useRouter } from 'next/navigation'
import { InputsEntry, type inputsTyped, SocketEntry, SourceEntry } from '#core/entry'
import { LinkKey, sayLink } from '#core/signal'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'

type Act = (entry: unknown) => Promise<Answer>
const KIND = { player: 'Player', console: 'Console', computer: 'Computer' } as const

const Links = () =>
  LinkKey.options.map((key) => (
    <option key={key} value={key}>
      {sayLink(key)}
    </option>
  ))
const YesNo = () => (
  <>
    <option value="no">No</option>
    <option value="yes">Yes</option>
  </>
)

/** Adds a device that sends pictures. */
export const SourceForm = ({ action }: { action: Act }) => {
  const router = useRouter()
  const begin = {
    name: '',
    kind: 'console' as const,
    link: 'frl-32' as const,
    compressed: 'no' as const,
    formats: '3840 × 2160: 60, 120\n1920 × 1080: 60, 120',
    bitDepths: '8, 10, 12',
    chroma: '4:4:4, 4:2:2, 4:2:0',
    ranges: 'limited, full',
    variableRefresh: '',
    falls: '',
  }
  const { form, submit, ready, problem, done } = useEntry(SourceEntry, begin, async (_, typed) => {
    const answer = await action(typed)
    if (!answer.error) {
      form.reset(begin)
      router.refresh()
    }
    return answer
  })
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <Field form={form} name="name" label="Name">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="kind" label="Kind">
        {(props) => (
          <select {...props}>
            {Object.entries(KIND).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Field form={form} name="link" label="Fastest link">
        {(props) => (
          <select {...props}>
            <Links />
          </select>
        )}
      </Field>
      <Field form={form} name="compressed" label="Compressed transport">
        {(props) => (
          <select {...props}>
            <YesNo />
          </select>
        )}
      </Field>
      <div className="sm:col-span-2">
        <Field form={form} name="formats" label="Sizes and rates, Hz, one size a line">
          {(props) => <textarea {...props} className="field num" rows={3} />}
        </Field>
      </div>
      <Field form={form} name="bitDepths" label="Bit depths">
        {(props) => <input {...props} className="field num" autoComplete="off" />}
      </Field>
      <Field form={form} name="chroma" label="Chroma">
        {(props) => <input {...props} className="field num" autoComplete="off" />}
      </Field>
      <Field form={form} name="ranges" label="Ranges">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="variableRefresh" label="Variable refresh, Hz" hint="48 to 120; empty: none">
        {(props) => <input {...props} className="field num" autoComplete="off" />}
      </Field>
      <div className="sm:col-span-2">
        <Field
          form={form}
          name="falls"
          label="What it changes by itself from a rate on, one a line"
          hint="120: 4:2:2, limited"
        >
          {(props) => <textarea {...props} className="field num" rows={2} />}
        </Field>
      </div>
      <div className="sm:col-span-2">
        <button type="submit" className="button button-quiet" disabled={!ready}>
          Add this source
        </button>
        <span role="status" className="ml-4 text-soft">
          {done}
        </span>
        <FormProblem text={problem} />
      </div>
    </form>
  )
}

/** What a display takes, over whichever socket. */
export const InputsForm = ({ action, begin }: { action: Act; begin: ReturnType<typeof inputsTyped> }) => {
  const router = useRouter()
  const { form, submit, ready, problem, done } = useEntry(InputsEntry, begin, async (_, typed) => {
    const answer = await action(typed)
    if (!answer.error) router.refresh()
    return answer
  })
  return (
    <form onSubmit={submit} className="grid gap-3" noValidate>
      <Field
        form={form}
        name="formats"
        label="Sizes and rates that it takes, Hz, one size a line"
        hint="3840 × 2160: 24, 50, 60, 120"
      >
        {(props) => <textarea {...props} className="field num" rows={4} />}
      </Field>
      <Field form={form} name="bitDepths" label="Bit depths">
        {(props) => <input {...props} className="field num" autoComplete="off" />}
      </Field>
      <Field form={form} name="chroma" label="Chroma">
        {(props) => <input {...props} className="field num" autoComplete="off" />}
      </Field>
      <Field form={form} name="variableRefresh" label="Variable refresh, Hz" hint="48 to 120; empty: none">
        {(props) => <input {...props} className="field num" autoComplete="off" />}
      </Field>
      <div>
        <button type="submit" className="button button-quiet" disabled={!ready}>
          Save what it takes
        </button>
        <span role="status" className="ml-4 text-soft">
          {done}
        </span>
        <FormProblem text={problem} />
      </div>
    </form>
  )
}

type Choices = ReadonlyArray<{ readonly value: string; readonly label: string }>

/** Adds a socket, or changes the one with the same label. */
export const SocketForm = ({
  action,
  unlocks,
  labels,
}: {
  action: Act
  unlocks: Choices
  labels: Choices
}) => {
  const router = useRouter()
  const begin = {
    label: '',
    link: 'frl-48' as const,
    compressed: 'no' as const,
    soundSystem: 'no' as const,
    unlock: '',
    before: 'tmds-18' as const,
    fullChroma: '',
    note: '',
  }
  const { form, submit, ready, problem, done } = useEntry(SocketEntry, begin, async (_, typed) => {
    const answer = await action(typed)
    if (!answer.error) {
      form.reset(begin)
      router.refresh()
    }
    return answer
  })
  const menu = (name: 'unlock' | 'fullChroma', label: string, none: string, choices: Choices) => (
    <Field form={form} name={name} label={label}>
      {(props) => (
        <select {...props}>
          <option value="">{none}</option>
          {choices.map((c) => (
            <option key={c.value} value={c.value}>
              {c.label}
            </option>
          ))}
        </select>
      )}
    </Field>
  )
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <Field form={form} name="label" label="Label of the socket">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="link" label="Fastest link">
        {(props) => (
          <select {...props}>
            <Links />
          </select>
        )}
      </Field>
      <Field form={form} name="compressed" label="Compressed transport">
        {(props) => (
          <select {...props}>
            <YesNo />
          </select>
        )}
      </Field>
      <Field form={form} name="soundSystem" label="Also the sound system’s">
        {(props) => (
          <select {...props}>
            <YesNo />
          </select>
        )}
      </Field>
      {menu('unlock', 'Full rate is unlocked by', 'nothing: it is always there', unlocks)}
      <Field form={form} name="before" label="Link before it is unlocked">
        {(props) => (
          <select {...props}>
            <Links />
          </select>
        )}
      </Field>
      {menu('fullChroma', 'Full chroma of a computer needs', 'nothing', labels)}
      <Field form={form} name="note" label="What a reader should know">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <div className="sm:col-span-2">
        <button type="submit" className="button button-quiet" disabled={!ready}>
          Save this socket
        </button>
        <span role="status" className="ml-4 text-soft">
          {done}
        </span>
        <FormProblem text={problem} />
      </div>
    </form>
  )
}
