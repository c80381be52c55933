'use client'

import { useRouter } from 'next/navigation'
import { useState, useTransition } from 'react'
import { z } from 'zod'
import { CaseEntry, EQUIPMENT_QUESTIONS, IntakeByHandEntry, IntakeEntry, PANEL_LABEL } from '#core/entry'
import { GuideWords } from '#core/guide'
import { CASE_LABEL, DERIVED_CASES, type ViewingCase } from '#core/judge'
import type { UnitView } from '#server/catalog'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'

const options = (list: Readonly<Record<string, string>>) =>
  Object.entries(list).map(([value, text]) => (
    <option key={value} value={value}>
      {text}
    </option>
  ))

/** Begins a viewing case on a unit. */
export const BeginForm = ({
  action,
  modes,
  policies,
  begun,
  byHand,
}: {
  action: (entry: unknown) => Promise<Answer>
  modes: UnitView['modes']
  policies: UnitView['policies']
  /** Cases that the unit has sessions of. */
  begun: readonly ViewingCase[]
  /** The unit does not stand on the bench: a person does what the bench would. */
  byHand: boolean
}) => {
  const doer = byHand ? 'hand' : 'bench'
  const begin: z.input<typeof CaseEntry> = {
    viewingCase: DERIVED_CASES.find((c) => !begun.includes(c)) ?? 'sdr-dark',
    policy: policies[0]?.key ?? '',
    baseMode: '',
    luminance: '',
    unattended: false,
    display: doer,
    pattern: doer,
    meter: doer,
    meterName: '',
  }
  // What was checked here is checked again where it is stored, from the words that were typed.
  const { form, submit, ready, busy, problem } = useEntry(CaseEntry, begin, (_, typed) => action(typed))
  const [viewingCase, policy, mode] = form.watch(['viewingCase', 'policy', 'baseMode'])
  const targets = policies.find((p) => p.key === policy)?.targets[viewingCase] ?? ''
  const holds = modes.find((m) => m.value === mode)?.holds.filter((h) => h.viewingCase !== viewingCase) ?? []
  const modeHint =
    mode === ''
      ? 'All are read; you choose from a ranked proposal.'
      : holds.length
        ? undefined
        : 'Taken without a survey.'
  const { errors } = form.formState
  return (
    <form onSubmit={submit} className="grid gap-3" noValidate>
      <div className="grid gap-x-4 gap-y-3 sm:grid-cols-2">
        <Field form={form} name="viewingCase" label="Viewing case">
          {(props) => (
            <select {...props}>
              {DERIVED_CASES.map((c) => (
                <option key={c} value={c}>
                  {CASE_LABEL[c]}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field form={form} name="policy" label="Policy" hint={`Aims at ${targets}.`}>
          {(props) => (
            <select {...props}>{options(Object.fromEntries(policies.map((p) => [p.key, p.name])))}</select>
          )}
        </Field>
        <Field form={form} name="baseMode" label="Picture mode to calibrate" hint={modeHint}>
          {(props) => (
            <select {...props}>
              <option value="">Chosen after a survey</option>
              {modes.map((m) => (
                <option key={m.value} value={m.value}>
                  {m.label}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field form={form} name="luminance" label="White, cd/m²" hint="Empty: as the policy says.">
          {(props) => (
            <input
              {...props}
              className="field num"
              inputMode="decimal"
              autoComplete="off"
              placeholder={targets.split(' ')[0]}
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
            <input type="checkbox" {...form.register('unattended')} disabled={!ready} className="mt-1" />
            <span>
              Unattended
              <span className="block text-sm text-faint">
                The bench goes the whole route by itself; you may take over at any moment.
              </span>
            </span>
          </label>
          <FormProblem text={errors.unattended?.message} />
        </div>
      )}
      <details open={byHand || errors.meterName !== undefined || undefined}>
        <summary className="text-sm text-soft">Equipment</summary>
        <div className="mt-3 grid gap-4">
          {(['display', 'pattern', 'meter'] as const).map((name) => (
            <Field key={name} form={form} name={name} label={EQUIPMENT_QUESTIONS[name].question}>
              {(props) => <select {...props}>{options(EQUIPMENT_QUESTIONS[name].answers)}</select>}
            </Field>
          ))}
          <Field
            form={form}
            name="meterName"
            label="Meter, where a person reads it"
            hint="Maker, model, serial. It stands beside every reading."
          >
            {(props) => <input {...props} autoComplete="off" />}
          </Field>
        </div>
      </details>
      <FormProblem text={problem} />
      <button type="submit" className="button" disabled={!ready}>
        {busy ? 'Beginning …' : `Begin ${CASE_LABEL[viewingCase]}`}
      </button>
    </form>
  )
}

/** What is said of the unit that stands on the bench. */
const ON_BENCH_UNIT = { label: '', region: '', origin: '', hours: '', panelKind: 'lcd-full-array' } as const

/** Takes in the unit that stands on the bench. */
export const IntakeForm = ({ action }: { action: (entry: unknown) => Promise<Answer> }) => {
  const { form, submit, ready, busy, problem } = useEntry(IntakeEntry, ON_BENCH_UNIT, (_, typed) =>
    action(typed),
  )
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      <Field form={form} name="label" label="Name of the unit" hint="What you call it: unit 3.">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="region" label="Region" hint="Where it is sold.">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="origin" label="Where it came from" hint="Bought, or on loan from whom.">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="panelKind" label="Panel">
        {(props) => <select {...props}>{options(PANEL_LABEL)}</select>}
      </Field>
      <Field form={form} name="hours" label="Hours of use" hint="From its own menu, where it tells.">
        {(props) => <input {...props} autoComplete="off" inputMode="decimal" />}
      </Field>
      <FormProblem text={problem} />
      <button type="submit" className="button" disabled={!ready}>
        {busy ? 'Adding …' : 'Add the unit'}
      </button>
    </form>
  )
}

/** The questions about a unit that stands on no bench, in the order in which they are answered. */
const BY_HAND_QUESTIONS = [
  ['maker', 'Maker', 'As it stands on the display.'],
  ['model', 'Model', 'Without the size.'],
  ['sizeInch', 'Diagonal, inch', 'Of the picture.'],
  ['serial', 'Serial number', 'It tells units apart.'],
  ['firmware', 'Firmware', 'From its own menu: the values will belong to this version.'],
  ['label', 'Name of the unit', 'What you call it: unit 3.'],
  ['region', 'Region', 'Where it is sold.'],
  ['origin', 'Where it came from', 'Bought, or on loan from whom.'],
  ['hours', 'Hours of use', 'From its own menu, where it tells.'],
] as const

/** A unit with the file of its control sheet. */
const WithSheet = IntakeByHandEntry.extend({ sheet: z.custom<FileList | undefined>() })

/** Takes in a unit that stands on no bench, with its control sheet from a file. */
export const IntakeByHandForm = ({
  action,
}: {
  action: (entry: unknown, files: FormData) => Promise<Answer>
}) => {
  const begin = {
    ...ON_BENCH_UNIT,
    ...{ maker: '', model: '', sizeInch: '', serial: '', firmware: '' },
  }
  const { form, submit, ready, busy, problem } = useEntry(WithSheet, begin, (_, { sheet, ...typed }) => {
    const files = new FormData()
    if (sheet?.[0]) files.set('sheet', sheet[0])
    return action(typed, files)
  })
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      {BY_HAND_QUESTIONS.map(([name, label, hint]) => (
        <Field key={name} form={form} name={name} label={label} hint={hint}>
          {(props) => <input {...props} autoComplete="off" />}
        </Field>
      ))}
      <Field form={form} name="panelKind" label="Panel">
        {(props) => <select {...props}>{options(PANEL_LABEL)}</select>}
      </Field>
      <Field
        form={form}
        name="sheet"
        label="Control sheet, a JSON file"
        hint="Not needed where another unit of the model was added before. docs/bench-protocol.md says what a sheet holds."
      >
        {(props) => <input {...props} type="file" accept=".json,application/json" />}
      </Field>
      <FormProblem text={problem} />
      <button type="submit" className="button" disabled={!ready}>
        {busy ? 'Adding …' : 'Add the unit'}
      </button>
    </form>
  )
}

/** A button that does one thing and says where it could not. */
export const ActionButton = ({ action, label }: { action: () => Promise<Answer>; label: string }) => {
  const router = useRouter()
  const [answer, setAnswer] = useState<Answer>({})
  const [busy, start] = useTransition()
  const act = () =>
    start(async () => {
      setAnswer(await action())
      router.refresh()
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
