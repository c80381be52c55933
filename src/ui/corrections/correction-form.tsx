'use client'

import Link from 'next/link'
import { type FormEvent, useState } from 'react'
import type { CorrectionResult, CorrectionSource } from '#server/corrections'

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
  const [form, setForm] = useState<'XYZ' | 'Yxy'>('XYZ')
  const [name, setName] = useState(`For ${source.display}`)
  const [meter, setMeter] = useState(source.meter)
  const [instrument, setInstrument] = useState('')
  const [own, setOwn] = useState<Record<Name, string>>({ ...source.readings })
  const [theirs, setTheirs] = useState<Record<Name, string>>({ red: '', green: '', blue: '', white: '' })
  const [answer, setAnswer] = useState<Answer>()
  const [busy, setBusy] = useState(false)
  const missing = COLOURS.some((c) => own[c].trim() === '')
  const wish = () => ({
    sessionId: session,
    name,
    meter,
    reference: instrument,
    form,
    colours: Object.fromEntries(COLOURS.map((c) => [c, { meter: own[c], reference: theirs[c] }])),
  })
  const send = async (keep: boolean) => {
    setBusy(true)
    setAnswer(await action(wish(), keep))
    setBusy(false)
  }
  const fill = async () => {
    setBusy(true)
    const result = await reference()
    setBusy(false)
    if (!result.ok) return setAnswer({ ok: false, error: result.error })
    setForm('XYZ')
    setTheirs(result.value)
    setInstrument((i) => i || 'Simulated reference')
  }
  const wrong = answer && !answer.ok ? answer : undefined
  const field = (id: string, label: string, value: string, set: (v: string) => void) => (
    <label className="grid gap-1">
      <span className="text-sm text-soft">{label}</span>
      <input
        className="field"
        value={value}
        aria-invalid={wrong?.field === id || undefined}
        onChange={(e) => set(e.target.value)}
      />
    </label>
  )
  const done = answer?.ok ? answer.value : undefined
  return (
    <form
      className="grid max-w-4xl gap-6"
      onSubmit={(e: FormEvent) => {
        e.preventDefault()
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
        {field('name', 'Name of the correction', name, setName)}
        {field('meter', 'Meter', meter, setMeter)}
        {field('reference', 'Reference instrument', instrument, setInstrument)}
      </div>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2 text-sm">
        <span className="text-soft" id="ref-form">
          The reference shows
        </span>
        <span role="radiogroup" aria-labelledby="ref-form" className="flex gap-5">
          {(['XYZ', 'Yxy'] as const).map((f) => (
            <label key={f} className="flex items-center gap-2">
              <input type="radio" name="refform" checked={form === f} onChange={() => setForm(f)} />
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
            <th scope="col">reference, {form === 'XYZ' ? 'X Y Z' : 'Y x y'}</th>
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
                  <input
                    className="field num"
                    aria-label={`${c}, ${side}`}
                    aria-invalid={wrong?.field === `${c}-${side}` || undefined}
                    autoComplete="off"
                    value={side === 'meter' ? own[c] : theirs[c]}
                    onChange={(e) =>
                      side === 'meter'
                        ? setOwn({ ...own, [c]: e.target.value })
                        : setTheirs({ ...theirs, [c]: e.target.value })
                    }
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {wrong && (
        <p role="alert" className="text-lamp">
          {wrong.error}
        </p>
      )}
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
            <button type="submit" className={done ? 'button button-quiet' : 'button'} disabled={busy}>
              Compare
            </button>
            {done && (
              <button type="button" className="button" disabled={busy} onClick={() => void send(true)}>
                Keep the correction
              </button>
            )}
          </>
        )}
      </div>
    </form>
  )
}
