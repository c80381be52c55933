'use client'

import { type FormEvent, type ReactNode, startTransition, useActionState, useId, useState } from 'react'
import { CASE_LABEL, DERIVED_CASES, type ViewingCase } from '#core/judge'
import type { UnitView } from '#server/catalog'

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

/** Sends a form without the reset that follows an action: what was chosen stays chosen where it was refused. */
export const keeping = (send: (data: FormData) => void) => (event: FormEvent<HTMLFormElement>) => {
  event.preventDefault()
  const data = new FormData(event.currentTarget)
  startTransition(() => send(data))
}

/** Begins a viewing case on a unit. */
export const BeginForm = ({
  action,
  modes,
  policies,
  begun,
  byHand,
}: {
  action: FormAction
  modes: UnitView['modes']
  policies: UnitView['policies']
  /** Cases that the unit has sessions of. */
  begun: readonly ViewingCase[]
  /** The unit does not stand on the bench: a person does what the bench would. */
  byHand: boolean
}) => {
  const [state, send, busy] = useActionState(action, { typed: {} })
  const [viewingCase, setCase] = useState<ViewingCase>(
    (state.typed.viewingCase as ViewingCase | undefined) ??
      DERIVED_CASES.find((c) => !begun.includes(c)) ??
      'sdr-dark',
  )
  const [policy, setPolicy] = useState(state.typed.policy ?? policies[0]?.key ?? '')
  const [mode, setMode] = useState(state.typed.baseMode ?? '')
  const targets = policies.find((p) => p.key === policy)?.targets[viewingCase] ?? ''
  const holds = modes.find((m) => m.value === mode)?.holds.filter((h) => h.viewingCase !== viewingCase) ?? []
  return (
    <form action={send} onSubmit={keeping(send)} className="grid gap-3" noValidate>
      <div className="grid gap-x-4 gap-y-3 sm:grid-cols-2">
        <Field name="viewingCase" label="Viewing case" state={state}>
          {(props) => (
            <select
              {...props}
              className="field"
              value={viewingCase}
              onChange={(e) => setCase(e.target.value as ViewingCase)}
            >
              {DERIVED_CASES.map((c) => (
                <option key={c} value={c}>
                  {CASE_LABEL[c]}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field name="policy" label="Policy" state={state} hint={`Aims at ${targets}.`}>
          {(props) => (
            <select {...props} className="field" value={policy} onChange={(e) => setPolicy(e.target.value)}>
              {policies.map((p) => (
                <option key={p.key} value={p.key}>
                  {p.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field
          name="baseMode"
          label="Picture mode to calibrate"
          state={state}
          hint={
            mode === ''
              ? 'All are read; you choose from a ranked proposal.'
              : holds.length
                ? undefined
                : 'Taken without a survey.'
          }
        >
          {(props) => (
            <select {...props} className="field" value={mode} onChange={(e) => setMode(e.target.value)}>
              <option value="">Chosen after a survey</option>
              {modes.map((m) => (
                <option key={m.value} value={m.value}>
                  {m.label}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field name="luminance" label="White, cd/m²" state={state} hint="Empty: as the policy says.">
          {(props) => (
            <input
              {...props}
              className="field num"
              inputMode="decimal"
              autoComplete="off"
              key={state.typed.luminance}
              placeholder={targets.split(' ')[0]}
              defaultValue={state.typed.luminance ?? ''}
            />
          )}
        </Field>
      </div>
      {holds.map((h) => (
        <p key={h.sentence} className="text-sm text-lamp">
          {h.sentence}
        </p>
      ))}
      {!byHand && (
        <div>
          <label className="flex items-start gap-3">
            <input
              type="checkbox"
              name="unattended"
              className="mt-1"
              defaultChecked={state.typed.unattended === 'on'}
            />
            <span>
              Unattended
              <span className="block text-sm text-faint">
                The bench goes the whole route by itself; you may take over at any moment.
              </span>
            </span>
          </label>
          {state.field === 'unattended' && (
            <p role="alert" className="mt-1 text-sm text-lamp">
              {state.error}
            </p>
          )}
        </div>
      )}
      <details open={state.field === 'meterName' || state.typed.meter === 'hand' || byHand}>
        <summary className="text-sm text-soft">Equipment</summary>
        <div className="mt-3 grid gap-4">
          {[
            ['display', 'Settings are made by', { bench: 'the bench', hand: 'a person with the remote' }],
            [
              'pattern',
              'Patches are shown by',
              {
                bench: 'the bench’s pattern source',
                page: 'a browser on the display under test',
                hand: 'a person with a source',
              },
            ],
            ['meter', 'The meter is read by', { bench: 'the bench', hand: 'manual entry' }],
          ].map(([name, label, options]) => (
            <Field key={String(name)} name={String(name)} label={String(label)} state={state}>
              {(props) => (
                <select
                  {...props}
                  className="field"
                  key={state.typed[String(name)]}
                  defaultValue={state.typed[String(name)] ?? (byHand ? 'hand' : 'bench')}
                >
                  {Object.entries(options as Record<string, string>).map(([value, text]) => (
                    <option key={value} value={value}>
                      {text}
                    </option>
                  ))}
                </select>
              )}
            </Field>
          ))}
          <Field
            name="meterName"
            label="Meter, where a person reads it"
            hint="Maker, model, serial. It stands beside every reading."
            state={state}
          >
            {(props) => (
              <input
                {...props}
                className="field"
                autoComplete="off"
                key={state.typed.meterName}
                defaultValue={state.typed.meterName}
              />
            )}
          </Field>
        </div>
      </details>
      <Problem state={state} />
      <button type="submit" className="button" disabled={busy}>
        {busy ? 'Beginning …' : `Begin ${CASE_LABEL[viewingCase]}`}
      </button>
    </form>
  )
}

/** Takes in the unit that stands on the bench, or with `byHand` one that stands on none. */
export const IntakeForm = ({ action, byHand = false }: { action: FormAction; byHand?: boolean }) => {
  const [state, send, busy] = useActionState(action, { typed: {} })
  const text = (name: string, label: string, hint: string) => (
    <Field name={name} label={label} hint={hint} state={state}>
      {(props) => <input {...props} className="field" autoComplete="off" defaultValue={state.typed[name]} />}
    </Field>
  )
  return (
    <form action={send} className="grid gap-4" noValidate>
      {byHand && (
        <>
          {text('maker', 'Maker', 'As it stands on the display.')}
          {text('model', 'Model', 'Without the size.')}
          {text('sizeInch', 'Diagonal, inch', 'Of the picture.')}
          {text('serial', 'Serial number', 'It tells units apart.')}
          {text('firmware', 'Firmware', 'From its own menu: the values will belong to this version.')}
        </>
      )}
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
      {byHand && (
        <Field
          name="sheet"
          label="Control sheet, a JSON file"
          hint="Not needed where another unit of the model was taken in before. docs/bench-protocol.md says what a sheet holds."
          state={state}
        >
          {(props) => <input {...props} type="file" accept=".json,application/json" className="field" />}
        </Field>
      )}
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
        {busy ? 'Placing it on the bench …' : label}
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
