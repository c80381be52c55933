'use client'

import { z } from 'zod'
import { IntakeByHandEntry, IntakeEntry, PANEL_LABEL } from '#core/entry'
import type { PanelKind } from '#core/protocol'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'
import { options } from './options'

/** What is said of the unit that stands on the bench. */
const ON_BENCH_UNIT = { label: '', region: '', origin: '', hours: '' } as const

/** Takes in the unit that stands on the bench. */
export const IntakeForm = ({
  action,
  panelKind,
}: {
  action: (entry: unknown) => Promise<Answer>
  /** As the bench says it; null where it does not. */
  panelKind: PanelKind | null
}) => {
  const { form, submit, ready, busy, problem } = useEntry(
    IntakeEntry,
    { ...ON_BENCH_UNIT, panelKind: panelKind ?? 'lcd-full-array' },
    (_, typed) => action(typed),
  )
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      <Field form={form} name="label" label="Name of the unit" hint="A name for it, such as unit 3.">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="region" label="Region" hint="Where it is sold.">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="origin" label="Where it came from" hint="Bought, or on loan, and from whom.">
        {(props) => <input {...props} autoComplete="off" />}
      </Field>
      <Field form={form} name="panelKind" label="Panel">
        {(props) => <select {...props}>{options(PANEL_LABEL)}</select>}
      </Field>
      <Field form={form} name="hours" label="Hours of use" hint="From its own menu, if it says.">
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
  ['maker', 'Maker', 'As it is written on the display.'],
  ['model', 'Model', 'Without the size.'],
  ['sizeInch', 'Diagonal, inch', 'Of the picture.'],
  ['serial', 'Serial number', 'It tells units apart.'],
  ['firmware', 'Firmware', 'From its own menu: the values will belong to this version.'],
  ['label', 'Name of the unit', 'A name for it, such as unit 3.'],
  ['region', 'Region', 'Where it is sold.'],
  ['origin', 'Where it came from', 'Bought, or on loan, and from whom.'],
  ['hours', 'Hours of use', 'From its own menu, if it says.'],
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
        label="Control sheet, a file, if you have one"
        hint="Without a file you enter the menu next. A model that is known already needs neither."
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
