'use client'

import { type ReactNode, useActionState, useId } from 'react'

/** What a form's action answers: what is wrong and with which field, and the words that were typed, so that none is lost. */
export interface FormState {
  readonly error?: string
  readonly field?: string
  readonly done?: string
  readonly typed: Readonly<Record<string, string>>
}
type FormAction = (state: FormState, data: FormData) => Promise<FormState>

const Field = ({
  label,
  hint,
  name,
  state,
  children,
}: {
  label: string
  hint?: string
  name: string
  state: FormState
  children: (props: {
    id: string
    name: string
    'aria-invalid': boolean | undefined
    'aria-describedby': string
  }) => ReactNode
}) => {
  const id = useId()
  const wrong = state.field === name
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-sm text-soft">
        {label}
      </label>
      {children({ id, name, 'aria-invalid': wrong || undefined, 'aria-describedby': `${id}-more` })}
      <p id={`${id}-more`} className={wrong ? 'mt-1 text-sm text-lamp' : 'mt-1 text-sm text-faint'}>
        {wrong ? state.error : hint}
      </p>
    </div>
  )
}

const Problem = ({ state }: { state: FormState }) =>
  state.error && !state.field ? (
    <p role="alert" className="text-lamp">
      {state.error}
    </p>
  ) : null

/** Begins a viewing case on a unit. */
export const BeginForm = ({
  action,
  modes,
}: {
  action: FormAction
  modes: ReadonlyArray<{ value: string; label: string }>
}) => {
  const [state, send, busy] = useActionState(action, { typed: {} })
  return (
    <form action={send} className="grid gap-4" noValidate>
      <input type="hidden" name="viewingCase" value="sdr-dark" />
      <Field
        name="baseMode"
        label="Picture mode to calibrate"
        state={state}
        hint="The mode nearest to the target, with room left to adjust."
      >
        {(props) => (
          <select {...props} className="field" defaultValue={state.typed.baseMode ?? modes[0]?.value}>
            {modes.map((m) => (
              <option key={m.value} value={m.value}>
                {m.label}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Field
        name="luminance"
        label="White, cd/m²"
        state={state}
        hint="100 suits a dark room. White aims at D65, tone at BT.1886."
      >
        {(props) => (
          <input
            {...props}
            className="field num"
            inputMode="decimal"
            autoComplete="off"
            key={state.typed.luminance}
            defaultValue={state.typed.luminance ?? '100'}
          />
        )}
      </Field>
      <Problem state={state} />
      <button type="submit" className="button" disabled={busy}>
        {busy ? 'Beginning …' : 'Begin SDR, dark room'}
      </button>
    </form>
  )
}

/** Takes in the unit that stands on the bench. */
export const IntakeForm = ({ action }: { action: FormAction }) => {
  const [state, send, busy] = useActionState(action, { typed: {} })
  const text = (name: string, label: string, hint: string) => (
    <Field name={name} label={label} hint={hint} state={state}>
      {(props) => <input {...props} className="field" autoComplete="off" defaultValue={state.typed[name]} />}
    </Field>
  )
  return (
    <form action={send} className="grid gap-4" noValidate>
      {text('label', 'Name of the unit', 'What you call it: unit 3.')}
      {text('region', 'Region', 'Where it is sold.')}
      {text('origin', 'Where it came from', 'Bought, or on loan from whom.')}
      <Field name="panelKind" label="Panel" state={state}>
        {(props) => (
          <select {...props} className="field" defaultValue={state.typed.panelKind ?? 'lcd-full-array'}>
            <option value="lcd-full-array">LCD, full-array</option>
            <option value="lcd-edge-lit">LCD, edge-lit</option>
            <option value="self-emissive">self-emissive</option>
            <option value="projector">projector</option>
          </select>
        )}
      </Field>
      {text('hours', 'Hours of use', 'From its own menu, where it tells.')}
      <Problem state={state} />
      <button type="submit" className="button" disabled={busy}>
        {busy ? 'Taking in …' : 'Take it in'}
      </button>
    </form>
  )
}

/** Puts a unit on the stand of a simulated bench. */
export const PutOnStand = ({ action, label }: { action: FormAction; label: string }) => {
  const [state, send, busy] = useActionState(action, { typed: {} })
  return (
    <form action={send} className="grid gap-2">
      <button type="submit" className="button button-quiet" disabled={busy}>
        {busy ? 'Putting it on …' : label}
      </button>
      <Problem state={state} />
    </form>
  )
}

/** The words of a draft, and its publishing: what is published is what stands in the fields. */
export const GuideEditor = ({
  action,
  title,
  summary,
  stops,
  revision,
}: {
  action: FormAction
  title: string
  summary: string
  stops: number
  revision: number
}) => {
  const [state, send, busy] = useActionState(action, { typed: {} })
  return (
    <form action={send} className="grid gap-4" noValidate>
      <Field name="title" label="Title" state={state}>
        {(props) => (
          <input
            {...props}
            className="field"
            key={state.typed.title}
            defaultValue={state.typed.title ?? title}
          />
        )}
      </Field>
      <Field
        name="summary"
        label="Summary, for the hurried"
        state={state}
        hint="A sentence or two: what to do, and whether it was worth it."
      >
        {(props) => (
          <textarea
            {...props}
            className="field"
            rows={6}
            key={state.typed.summary}
            defaultValue={state.typed.summary ?? summary}
          />
        )}
      </Field>
      <Problem state={state} />
      <div className="flex flex-wrap items-center gap-3">
        <button type="submit" name="intent" value="publish" className="button" disabled={busy || stops > 0}>
          {busy ? 'Working …' : `Publish revision ${revision}`}
        </button>
        <button type="submit" name="intent" value="save" className="button button-quiet" disabled={busy}>
          Save the words
        </button>
        <output className="text-sm text-faint">{state.done}</output>
      </div>
      <p className="text-sm text-faint">
        {stops > 0
          ? 'What is marked “must” below has to be mended first.'
          : 'Publishing makes the page public at once; an earlier revision stays kept.'}
      </p>
    </form>
  )
}
