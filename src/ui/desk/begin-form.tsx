'use client'

import Link from 'next/link'
import type { z } from 'zod'
import { CaseEntry, EQUIPMENT_QUESTIONS, type Equipment } from '#core/entry'
import { CASE_LABEL, isHdr, ViewingCase } from '#core/judge'
import type { Effort } from '#core/plan'
import type { UnitView } from '#server/unit'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'
import { day, stepAt } from '#ui/static'
import { answersOf } from './equipment-form'
import { options } from './options'

/** An equipment in one line. In: who sets, who shows patches, who reads, name of the meter. */
const sayEquipment = ([display, pattern, meter, meterName]: readonly [
  Equipment['display'],
  Equipment['pattern'],
  Equipment['meter'],
  string,
]): string =>
  display === 'bench' && pattern === 'bench' && meter === 'bench'
    ? 'the bench'
    : [
        display === 'bench' ? 'settings by the bench' : 'settings with the remote',
        {
          bench: 'patches by the bench',
          page: 'patches on a browser page',
          hand: 'patches from a source of your own',
        }[pattern],
        meter === 'bench' ? 'readings by the bench' : `readings typed (${meterName || 'which meter?'})`,
      ].join(', ')

/** Begins a viewing case on a unit. */
export const BeginForm = ({
  action,
  modes,
  policies,
  begun,
  open,
  equipment,
  hasBench,
  effort,
}: {
  action: (entry: unknown) => Promise<Answer>
  modes: UnitView['modes']
  policies: UnitView['policies']
  /** Cases that the unit has sessions of. */
  begun: readonly ViewingCase[]
  /** Sessions that were begun and are not at their end. */
  open: UnitView['open']
  /** What it begins with. */
  equipment: UnitView['equipment']
  hasBench: boolean
  effort: UnitView['effort']
}) => {
  const byHand = equipment.display !== 'bench'
  const begin: z.input<typeof CaseEntry> = {
    viewingCase: ViewingCase.options.find((c) => !begun.includes(c)) ?? 'sdr-dark',
    policy: policies[0]?.key ?? '',
    baseMode: '',
    luminance: '',
    unattended: false,
    display: equipment.display,
    pattern: equipment.pattern,
    meter: equipment.meter,
    meterName: equipment.meterName,
  }
  // What was checked here is checked again where it is stored, from the words that were typed.
  const { form, submit, ready, busy, problem } = useEntry(CaseEntry, begin, (_, typed) => action(typed))
  const [viewingCase, policy, mode] = form.watch(['viewingCase', 'policy', 'baseMode'])
  const targets = policies.find((p) => p.key === policy)?.targets[viewingCase] ?? ''
  const by = isHdr(viewingCase) ? 'hdr' : 'sdr'
  const holds =
    modes.find((m) => m.value === mode)?.holds.filter((h) => h.by === by && h.viewingCase !== viewingCase) ??
    []
  const modeHint =
    mode === ''
      ? 'All are read; you choose from a ranked proposal.'
      : holds.length
        ? undefined
        : 'Taken without a survey.'
  const { errors } = form.formState
  const begunBefore = open[viewingCase]
  return (
    <form onSubmit={submit} className="grid gap-3" noValidate>
      <div className="grid gap-x-4 gap-y-3 sm:grid-cols-2">
        <Field form={form} name="viewingCase" label="Viewing case">
          {(props) => (
            <select {...props}>
              {ViewingCase.options.map((c) => (
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
        {!isHdr(viewingCase) && (
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
        )}
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
                The bench works through the whole route on its own; you can take over at any time.
              </span>
            </span>
          </label>
          <FormProblem text={errors.unattended?.message} />
        </div>
      )}
      <details open={(byHand && !equipment.meterName) || errors.meterName !== undefined || undefined}>
        <summary className="text-sm text-soft">
          Equipment: {sayEquipment(form.watch(['display', 'pattern', 'meter', 'meterName']))}
        </summary>
        <div className="mt-3 grid gap-4">
          {(['display', 'pattern', 'meter'] as const).map((name) => (
            <Field key={name} form={form} name={name} label={EQUIPMENT_QUESTIONS[name].question}>
              {(props) => <select {...props}>{options(answersOf(name, hasBench))}</select>}
            </Field>
          ))}
          <Field
            form={form}
            name="meterName"
            label="Meter, where a person reads it"
            hint="Maker, model, serial. It is stored with every reading. If you have none, write “none”: a guide by eye needs no reading."
          >
            {(props) => <input {...props} autoComplete="off" />}
          </Field>
        </div>
      </details>
      {effort && form.watch('display') === 'hand' && (
        <EffortTable rows={mode === '' ? effort.survey : effort.chosen} pace={effort.pace} />
      )}
      <FormProblem text={problem} />
      {begunBefore ? (
        <>
          <p className="text-soft">
            {CASE_LABEL[viewingCase]} was begun on {day(begunBefore.createdAt)}: {stepAt(begunBefore.at)}.
          </p>
          <div className="flex flex-wrap gap-3">
            <Link className="button" href={`/sessions/${begunBefore.id}`}>
              Go on with it
            </Link>
            <button type="submit" className="button button-quiet" disabled={!ready}>
              {busy ? 'Beginning …' : 'Begin it again'}
            </button>
          </div>
        </>
      ) : (
        <button type="submit" className="button" disabled={!ready}>
          {busy ? 'Beginning …' : `Begin ${CASE_LABEL[viewingCase]}`}
        </button>
      )}
    </form>
  )
}

const DEPTH: Readonly<Record<Effort['depth'], string>> = {
  modes: 'Survey of the modes only',
  'two-point': 'Two-point white balance',
  five: 'The five levels that matter most',
  all: 'All levels',
}

/** What a case by hand is expected to take, for each depth. */
const EffortTable = ({ rows, pace }: { rows: readonly Effort[]; pace: string }) => (
  <table className="quiet-table tight text-sm">
    <caption className="pb-1 text-left text-soft">To expect by hand, {pace}</caption>
    <thead>
      <tr>
        <th scope="col">As far as</th>
        <th scope="col" className="n">
          readings
        </th>
        <th scope="col" className="n">
          values
        </th>
        <th scope="col" className="n">
          clicks
        </th>
        <th scope="col" className="n">
          min
        </th>
      </tr>
    </thead>
    <tbody>
      {rows.map((r) => (
        <tr key={r.depth}>
          <th scope="row" className="text-ink!">
            {DEPTH[r.depth]}
          </th>
          <td className="n">{r.readings}</td>
          <td className="n">{r.values}</td>
          <td className="n">{r.clicks}</td>
          <td className="n">{Math.round(r.minutes)}</td>
        </tr>
      ))}
    </tbody>
  </table>
)
