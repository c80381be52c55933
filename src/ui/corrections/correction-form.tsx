'use client'

import Link from 'next/link'
import { useRef, useState } from 'react'
import { CorrectionEntry } from '#core/entry'
import type { CorrectionResult, CorrectionSource } from '#server/equipment'
import { Field, FormProblem, useEntry } from '#ui/form'

const COLOURS = ['white', 'red', 'green', 'blue'] as const
type Name = (typeof COLOURS)[number]
type Answer = { ok: true; value: CorrectionResult } | { ok: false; error: string; field?: string }

/** A four-colour correction: what the meter reads, what the reference reads, before and after. */
export const CorrectionForm = ({
  session,
  source,
  action,
  reference,
}: {
  session: number
  source: CorrectionSource
  action: (wish: unknown, keep: boolean) => Promise<Answer>
  reference: () => Promise<{ ok: true; value: Record<Name, string> } | { ok: false; error: string }>
}) => {
  const begin: CorrectionEntry = {
    sessionId: session,
    name: `For ${source.display}`,
    meter: source.meter,
    reference: '',
    form: 'XYZ',
    colours: {
      white: { meter: source.readings.white, reference: '' },
      red: { meter: source.readings.red, reference: '' },
      green: { meter: source.readings.green, reference: '' },
      blue: { meter: source.readings.blue, reference: '' },
    },
  }
  const [result, setResult] = useState<CorrectionResult>()
  const keeping = useRef(false)
  const { form, submit, ready, problem } = useEntry(CorrectionEntry, begin, async (_, typed) => {
    const answer = await action(typed, keeping.current)
    if (!answer.ok) return { error: answer.error, field: answer.field }
    setResult(answer.value)
    return undefined
  })
  const send = (keep: boolean) => {
    keeping.current = keep
    return submit()
  }
  const [busy, setBusy] = useState(false)
  const fill = async () => {
    setBusy(true)
    const answer = await reference()
    setBusy(false)
    if (!answer.ok) return form.setError('root', { message: answer.error })
    form.setValue('form', 'XYZ')
    for (const c of COLOURS) form.setValue(`colours.${c}.reference`, answer.value[c])
    if (!form.getValues('reference')) form.setValue('reference', 'Simulated reference')
  }
  const missing = Object.values(form.watch('colours')).some(({ meter }) => meter.trim() === '')
  const done = result
  return (
    <form
      className="grid max-w-4xl gap-6"
      noValidate
      onSubmit={(event) => {
        event.preventDefault()
        void send(false)
      }}
    >
      <ol className="grid list-decimal gap-1 pl-5 text-soft">
        <li>
          Read “Primaries and secondaries” on the bench (key V) with this meter, its own correction set to
          “none” (key D).
        </li>
        <li>
          Put the reference instrument on the same spot, show the same four patches, and write down what it
          reads.
        </li>
        <li>Compare before and after, then keep the correction; this session reads with it from then on.</li>
      </ol>
      {missing && (
        <p className="text-lamp">
          The newest readings of this session do not hold all four colours in its present settings.{' '}
          <Link className="link" href={`/sessions/${session}`}>
            Read the primaries first
          </Link>
          , or type what the meter shows.
        </p>
      )}
      {source.slot && (
        <p className="text-lamp">
          These readings were taken with the meter’s own correction “{source.slot}”: the new one would come on
          top of it.
        </p>
      )}
      <div className="grid gap-4 sm:grid-cols-3">
        <Field form={form} name="name" label="Name of the correction">
          {(props) => <input {...props} autoComplete="off" />}
        </Field>
        <Field form={form} name="meter" label="Meter">
          {(props) => <input {...props} autoComplete="off" />}
        </Field>
        <Field form={form} name="reference" label="Reference instrument">
          {(props) => <input {...props} autoComplete="off" />}
        </Field>
      </div>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2 text-sm">
        <span className="text-soft" id="ref-form">
          The reference shows
        </span>
        <span role="radiogroup" aria-labelledby="ref-form" className="flex gap-5">
          {(['XYZ', 'Yxy'] as const).map((f) => (
            <label key={f} className="flex items-center gap-2">
              <input type="radio" value={f} {...form.register('form')} />
              {f === 'XYZ' ? 'X Y Z, cd/m²' : 'Y (cd/m²), x, y'}
            </label>
          ))}
        </span>
        {source.simulated && (
          <button type="button" className="link ml-auto" disabled={busy} onClick={() => void fill()}>
            Read them with the simulated reference
          </button>
        )}
      </div>
      <table className="quiet-table">
        <thead>
          <tr>
            <th scope="col">patch</th>
            <th scope="col">this meter, X Y Z</th>
            <th scope="col">reference, {form.watch('form') === 'XYZ' ? 'X Y Z' : 'Y x y'}</th>
          </tr>
        </thead>
        <tbody>
          {COLOURS.map((c) => (
            <tr key={c}>
              <th scope="row" className="capitalize">
                {c}
              </th>
              {(['meter', 'reference'] as const).map((side) => (
                <td key={side}>
                  <Field form={form} name={`colours.${c}.${side}`} label={`${c}, ${side}`} inTable>
                    {(props) => <input {...props} className="field num" autoComplete="off" />}
                  </Field>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <FormProblem text={problem} />
      {done && (
        <table className="quiet-table" data-effect>
          <caption className="mb-1 text-left font-semibold">Before and after</caption>
          <thead>
            <tr>
              <th scope="col">patch</th>
              <th scope="col" className="n">
                Δu′v′ before
              </th>
              <th scope="col" className="n">
                after
              </th>
              <th scope="col" className="n">
                luminance before, %
              </th>
              <th scope="col" className="n">
                after, %
              </th>
            </tr>
          </thead>
          <tbody>
            {done.effect.map((e) => (
              <tr key={e.colour}>
                <th scope="row" className="capitalize">
                  {e.colour}
                </th>
                <td className="n">{e.before.toFixed(4)}</td>
                <td className="n">{e.after.toFixed(4)}</td>
                <td className="n">{(100 * e.luminanceBefore).toFixed(1)}</td>
                <td className="n">{(100 * e.luminanceAfter).toFixed(1)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className="flex flex-wrap items-center gap-4">
        {done?.id ? (
          <p>
            Kept. This session now reads with it.{' '}
            <Link className="link" href={`/sessions/${session}`}>
              Back to the bench
            </Link>
          </p>
        ) : (
          <>
            <button
              type="submit"
              className={done ? 'button button-quiet' : 'button'}
              disabled={!ready || busy}
            >
              Compare
            </button>
            {done && (
              <button
                type="button"
                className="button"
                disabled={!ready || busy}
                onClick={() => void send(true)}
              >
                Keep the correction
              </button>
            )}
          </>
        )}
      </div>
    </form>
  )
}
