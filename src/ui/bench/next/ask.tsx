'use client'

import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import type { UseFormRegister } from 'react-hook-form'
import type { z } from 'zod'
import { ReadingsEntry } from '#core/entry'
import { parseTyped, whyDoubtful } from '#core/measure'
import type { AskView, RunView } from '#server/view'
import { Swatch } from '#ui/charts'
import { FormProblem, useEntry } from '#ui/form'
import type { Send } from '../use-session'
import { FollowFile } from './follow-file'
import { PatchPageState } from './patch-page-state'
import { SetWithRemote } from './set-many'
import { type Ticks, ticked } from './ticks'

/** What a person is asked to do in the place of a device: the same large type as an adjustment, and one key to answer. */
export const Asking = ({
  ask,
  run,
  error,
  send,
  ticks,
  onTicks,
}: {
  ask: AskView
  run: RunView
  error: string
  send: Send
  ticks: Ticks
  onTicks: (ticks: Ticks) => void
}) => (
  <>
    <p className="text-soft">
      {run.title}, {run.done} of {run.total} read
    </p>
    {ask.kind === 'reset' && (
      <>
        <h1 className="figure text-5xl">Reset “{ask.baseMode}” in the display’s menu</h1>
        <p className="text-lg text-soft">Then press Space.</p>
      </>
    )}
    {ask.kind === 'set' && (
      <SetWithRemote ask={ask} ticks={ticks} onTick={(row, as) => onTicks(ticked(ask, ticks, row, as))} />
    )}
    {(ask.kind === 'show' || ask.kind === 'read') && (
      <PatchLine ask={ask} text={ask.kind === 'show' ? 'Show' : ask.byHand ? 'Show and read' : 'Read'} />
    )}
    {(ask.kind === 'show' || ask.kind === 'read') && ask.page && <PatchPageState page={ask.page} />}
    {ask.kind === 'show' && (
      <p className="text-lg text-soft">
        Bring the patch up on your source, then press Space: the meter reads it.
      </p>
    )}
    {ask.kind === 'read' && <TypeIn key={`${ask.run}-${ask.task}`} ask={ask} error={error} send={send} />}
  </>
)

type Patch = Extract<AskView, { kind: 'show' | 'read' }>

const PatchLine = ({ ask, text }: { ask: Patch; text: string }) => (
  <>
    <h1 className="flex flex-wrap items-center gap-x-5">
      <span className="figure text-5xl">{text}</span>
      <Swatch className="size-12 border border-line" rgb={ask.swatch} />
      <span className="figure text-6xl text-lamp">{ask.patch}</span>
    </h1>
    <p className="text-soft">
      Codes <span className="num text-ink">{ask.codes.join(' ')}</span>, {ask.lies}
      {ask.byHand && ask.picture && (
        <>
          {' · '}
          <a href={ask.picture} className="link" download>
            16-bit PNG of it, marked as PQ
          </a>
        </>
      )}
    </p>
    {ask.rests && <p className="text-lg">{ask.rests}</p>}
  </>
)

const FORMS = { XYZ: 'X Y Z, cd/m²', Yxy: 'Y (cd/m²), x, y' } as const
const EXAMPLE = { XYZ: '95,1  100,2  109,0', Yxy: '100,2  0,3127  0,3290' } as const

/** Half-typed readings, kept in the browser until they are stored, by run and task. */
const TEXT_KEY = 'wexmar-typed-text'
const keptText = (of: string): string => {
  if (typeof localStorage === 'undefined') return ''
  const [own, ...rest] = (localStorage.getItem(TEXT_KEY) ?? '').split('\n')
  return own === of ? rest.join('\n') : ''
}

/** Why what was typed is doubtful, line by line; empty where all of it makes sense or cannot be read at all. */
const doubtsOf = (text: string, form: keyof typeof FORMS, row: Patch['row']): string[] => {
  const typed = parseTyped(text, form)
  if (!typed.ok) return []
  return typed.values.flatMap((xyz, i) => {
    const sense = row[i]
    const numbers = typed.numbers[i]
    const why = sense && numbers && whyDoubtful(xyz, { form, numbers }, sense)
    return sense && why ? [`${sense.patch}: ${why}`] : []
  })
}

/**
 * Numbers as the meter shows them, one reading a line; Enter stores them, Shift and Enter begins another line. What makes no sense is said
 * first, and stored where Enter is pressed once more.
 */
const TypeIn = ({ ask, error, send }: { ask: Patch; error: string; send: Send }) => {
  const of = `${ask.run}-${ask.task}`
  const begin = { form: formOfLastTime(), text: keptText(of) }
  /** What was typed when its doubts were told. */
  const [told, setTold] = useState('')
  const { form, submit, busy } = useEntry(ReadingsEntry, begin, async (entry) => {
    const doubts = doubtsOf(entry.text, entry.form, ask.row)
    if (doubts.length && told !== entry.text) {
      setTold(entry.text)
      return undefined
    }
    const stored = await send({ type: 'type-in', run: ask.run, task: ask.task, ...entry })
    if (stored) {
      form.setValue('text', '')
      localStorage.removeItem(TEXT_KEY)
    }
    form.setFocus('text')
    return undefined
  })
  const { setFocus } = form
  const [trouble, setTrouble] = useState('')
  const signal = useMemo(() => ask.swatch.map((c) => c / 255), [ask.swatch])
  const submitting = useRef(submit)
  submitting.current = submit
  // A reading of the meter's file goes the way of a typed one: looked at, then stored.
  const take = useCallback(
    (line: string) => {
      setTrouble('')
      form.setValue('form', 'XYZ')
      form.setValue('text', line)
      void submitting.current()
    },
    [form],
  )
  useEffect(() => setFocus('text'), [setFocus])
  const [kind, text] = form.watch(['form', 'text'])
  useEffect(() => {
    if (text.trim()) localStorage.setItem(TEXT_KEY, `${of}\n${text}`)
  }, [of, text])
  const doubts = told && told === text ? doubtsOf(text, kind, ask.row) : []
  const wrong = form.formState.errors.text?.message ?? error
  const numbers = ask.row.length === 1 || text.split('\n').length === 1
  return (
    <form onSubmit={submit} className="grid max-w-2xl gap-2">
      <WhatMeterShows register={form.register} />
      <div className="flex items-stretch gap-3 max-sm:flex-col">
        <label className="sr-only" htmlFor="typed">
          Reading of {ask.patch}, {FORMS[kind]}
        </label>
        <textarea
          id="typed"
          rows={Math.min(6, Math.max(1, text.split('\n').length))}
          className="field num flex-1 resize-none text-2xl"
          placeholder={EXAMPLE[kind]}
          autoComplete="off"
          spellCheck={false}
          inputMode={numbers ? 'decimal' : 'text'}
          aria-invalid={wrong || doubts.length ? true : undefined}
          aria-describedby="typed-more"
          {...form.register('text')}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && !e.shiftKey) void submit(e)
            // The keys of the page work again.
            if (e.key === 'Escape') e.currentTarget.blur()
          }}
        />
        <button type="submit" className="button" disabled={busy || text.trim() === ''}>
          <span className="key">Enter</span> {doubts.length ? 'Keep this reading' : 'Store'}
        </button>
      </div>
      {doubts.length > 0 && <Doubts doubts={doubts} canTakeBack={ask.canTakeBack} />}
      <FormProblem text={form.formState.errors.text?.message} />
      <p id="typed-more" className="text-sm text-faint">
        {ask.row.length > 1
          ? `Up to ${ask.row.length} readings may be pasted at once, one a line, in the order in which they are asked for: ${ask.row
              .slice(0, 5)
              .map((r) => r.patch)
              .join(', ')}${ask.row.length > 5 ? ' …' : '.'}`
          : 'One line, three numbers. A comma or a point is the decimal sign.'}{' '}
        Esc leaves the field.
      </p>
      <FollowFile signal={signal} waits={busy || doubts.length > 0} onReading={take} onTrouble={setTrouble} />
      {trouble && (
        <p role="alert" className="text-sm text-lamp">
          {trouble}
        </p>
      )}
      {ask.canTakeBack && (
        <p>
          <button type="button" className="act text-sm" onClick={() => void send({ type: 'take-back' })}>
            Undo the last reading
          </button>
        </p>
      )}
    </form>
  )
}

/** Which three numbers the meter shows. */
const WhatMeterShows = ({ register }: { register: UseFormRegister<z.infer<typeof ReadingsEntry>> }) => (
  <div className="flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
    <span className="text-soft" id="typed-form">
      The meter shows
    </span>
    <div role="radiogroup" aria-labelledby="typed-form" className="flex gap-4">
      {(Object.keys(FORMS) as Array<keyof typeof FORMS>).map((f) => (
        <label key={f} className="flex items-center gap-2">
          <input
            type="radio"
            value={f}
            {...register('form', { onChange: () => localStorage.setItem(FORM_KEY, f) })}
          />
          {FORMS[f]}
        </label>
      ))}
    </div>
  </div>
)

/** Why what was typed is doubtful. */
const Doubts = ({ doubts, canTakeBack }: { doubts: readonly string[]; canTakeBack: boolean }) => (
  <div role="alert" className="text-lamp">
    {doubts.slice(0, 4).map((d) => (
      <p key={d}>{d}</p>
    ))}
    <p className="text-soft">
      Type it again, or press Enter once more to keep it.
      {canTakeBack ? ' If the previous reading was wrong, undo it below.' : ''} Nothing is stored yet.
    </p>
  </div>
)

const FORM_KEY = 'wexmar-typed-form'
const formOfLastTime = (): keyof typeof FORMS =>
  typeof localStorage !== 'undefined' && localStorage.getItem(FORM_KEY) === 'Yxy' ? 'Yxy' : 'XYZ'
