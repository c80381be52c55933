'use client'

import { useRouter } from 'next/navigation'
import type { ReactNode } from 'react'
import type { FieldValues, Path, UseFormReturn } from 'react-hook-form'
import { InputsEntry, type inputsTyped, SocketEntry, SourceEntry } from '#core/entry'
import { LinkKey, sayLink } from '#core/signal'
import { type Answer, Field, FormSubmit, useAdding, useEntry } from '#ui/form'

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

interface Of<In extends FieldValues, Out> {
  readonly form: UseFormReturn<In, unknown, Out>
  readonly name: Path<In>
  readonly label: string
  readonly hint?: string
}
const Text = <In extends FieldValues, Out>(of: Of<In, Out>) => (
  <Field {...of}>{(props) => <input {...props} autoComplete="off" />}</Field>
)
const Lines = <In extends FieldValues, Out>({ rows, ...of }: Of<In, Out> & { rows: number }) => (
  <Field {...of}>{(props) => <textarea {...props} className="field num" rows={rows} />}</Field>
)
const Select = <In extends FieldValues, Out>({ children, ...of }: Of<In, Out> & { children: ReactNode }) => (
  <Field {...of}>{(props) => <select {...props}>{children}</select>}</Field>
)
/** Adds a device that sends pictures. */
export const SourceForm = ({ action }: { action: Act }) => {
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
  const { form, submit, ready, problem, done } = useAdding(SourceEntry, begin, action)
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <Text form={form} name="name" label="Name" />
      <Select form={form} name="kind" label="Kind">
        {Object.entries(KIND).map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </Select>
      <Select form={form} name="link" label="Fastest link">
        <Links />
      </Select>
      <Select form={form} name="compressed" label="Compressed transport">
        <YesNo />
      </Select>
      <div className="sm:col-span-2">
        <Lines form={form} rows={3} name="formats" label="Sizes and rates, Hz, one size a line" />
      </div>
      <Text form={form} name="bitDepths" label="Bit depths" />
      <Text form={form} name="chroma" label="Chroma" />
      <Text form={form} name="ranges" label="Ranges" />
      <Text form={form} name="variableRefresh" label="Variable refresh, Hz" hint="48 to 120; empty: none" />
      <div className="sm:col-span-2">
        <Lines
          form={form}
          rows={2}
          name="falls"
          label="What it changes on its own from a certain rate on, one a line"
          hint="120: 4:2:2, limited"
        />
      </div>
      <FormSubmit label="Add this source" ready={ready} done={done} problem={problem} />
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
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <div className="sm:col-span-2">
        <Lines
          form={form}
          rows={4}
          name="formats"
          label="Sizes and rates that it takes, Hz, one size a line"
          hint="3840 × 2160: 24, 50, 60, 120"
        />
      </div>
      <Text form={form} name="bitDepths" label="Bit depths" />
      <Text form={form} name="chroma" label="Chroma" />
      <Text form={form} name="variableRefresh" label="Variable refresh, Hz" hint="48 to 120; empty: none" />
      <FormSubmit label="Save what it takes" ready={ready} done={done} problem={problem} />
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
  const begin = {
    label: '',
    link: 'frl-48' as const,
    compressed: 'no' as const,
    soundSystem: 'no' as const,
    unlock: '',
    before: 'tmds-18' as const,
    fullChroma: '',
    shares: '',
    note: '',
  }
  const { form, submit, ready, problem, done } = useAdding(SocketEntry, begin, action)
  const menu = (name: 'unlock' | 'fullChroma', label: string, none: string, choices: Choices) => (
    <Select form={form} name={name} label={label}>
      <option value="">{none}</option>
      {choices.map((c) => (
        <option key={c.value} value={c.value}>
          {c.label}
        </option>
      ))}
    </Select>
  )
  return (
    <form onSubmit={submit} className="grid gap-3 sm:grid-cols-2" noValidate>
      <Text form={form} name="label" label="Label of the socket" />
      <Select form={form} name="link" label="Fastest link">
        <Links />
      </Select>
      <Select form={form} name="compressed" label="Compressed transport">
        <YesNo />
      </Select>
      <Select form={form} name="soundSystem" label="Also the sound system’s">
        <YesNo />
      </Select>
      {menu('unlock', 'Full rate is unlocked by', 'nothing: it is always there', unlocks)}
      <Select form={form} name="before" label="Link before it is unlocked">
        <Links />
      </Select>
      {menu('fullChroma', 'Full chroma of a computer needs', 'nothing', labels)}
      <Text
        form={form}
        name="shares"
        label="Shares its full rate with"
        hint="Labels of other sockets, apart by commas; empty: none"
      />
      <Text form={form} name="note" label="What a reader should know" />
      <FormSubmit label="Save this socket" ready={ready} done={done} problem={problem} />
    </form>
  )
}
