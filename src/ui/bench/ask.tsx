'use client'

import { useEffect } from 'react'
import { ReadingsEntry } from '#core/entry'
import type { AskView, RunView } from '#server/views'
import { Swatch } from '#ui/charts'
import { FormProblem, useEntry } from '#ui/form'
import { ChangeLine, clicksInWords, Path } from './change'
import type { Send } from './use-session'

/** What a person is asked to do in the place of a device: the same large type as an adjustment, and one key to answer. */
export const Asking = ({
  ask,
  run,
  error,
  send,
}: {
  ask: AskView
  run: RunView
  error: string
  send: Send
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
      <>
        <Path path={ask.change.path} />
        <h1>
          <ChangeLine change={ask.change} size={{ label: 'text-5xl', from: 'text-4xl', to: 'text-7xl' }} />
        </h1>
        <p className="text-lg text-soft">
          Set it with the remote{ask.change.clicks === undefined ? '' : ` (${clicksInWords(ask.change)})`},
          then press Space. {ask.change.caution}
        </p>
        <p className="text-sm text-faint">{ask.change.memory}</p>
      </>
    )}
    {(ask.kind === 'show' || ask.kind === 'read') && (
      <PatchLine ask={ask} text={ask.kind === 'show' ? 'Show' : ask.byHand ? 'Show and read' : 'Read'} />
    )}
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
    </p>
  </>
)

const FORMS = { XYZ: 'X Y Z, cd/m²', Yxy: 'Y (cd/m²), x, y' } as const
const EXAMPLE = { XYZ: '95,1  100,2  109,0', Yxy: '100,2  0,3127  0,3290' } as const

/** Numbers as the meter shows them, one reading a line; Enter stores them, Shift and Enter begins another line. */
const TypeIn = ({ ask, error, send }: { ask: Patch; error: string; send: Send }) => {
  const begin = { form: formOfLastTime(), text: '' }
  const { form, submit, busy } = useEntry(ReadingsEntry, begin, async (entry) => {
    const stored = await send({ type: 'type-in', run: ask.run, task: ask.task, ...entry })
    if (stored) form.setValue('text', '')
    form.setFocus('text')
    return undefined
  })
  const { setFocus } = form
  useEffect(() => setFocus('text'), [setFocus])
  const [kind, text] = form.watch(['form', 'text'])
  const wrong = form.formState.errors.text?.message ?? error
  return (
    <form onSubmit={submit} className="grid max-w-2xl gap-2">
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
                {...form.register('form', { onChange: () => localStorage.setItem(FORM_KEY, f) })}
              />
              {FORMS[f]}
            </label>
          ))}
        </div>
      </div>
      <div className="flex items-stretch gap-3">
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
          aria-invalid={wrong ? true : undefined}
          aria-describedby="typed-more"
          {...form.register('text')}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && !e.shiftKey) void submit(e)
          }}
        />
        <button type="submit" className="button" disabled={busy || text.trim() === ''}>
          <span className="key">Enter</span> Store
        </button>
      </div>
      <FormProblem text={form.formState.errors.text?.message} />
      <p id="typed-more" className="text-sm text-faint">
        {ask.inARow > 1
          ? `Up to ${ask.inARow} readings may be pasted at once, one a line, in the order in which they are asked for.`
          : 'One line, three numbers. A comma or a point is the decimal sign.'}
      </p>
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

const FORM_KEY = 'wexmar-typed-form'
const formOfLastTime = (): keyof typeof FORMS =>
  typeof localStorage !== 'undefined' && localStorage.getItem(FORM_KEY) === 'Yxy' ? 'Yxy' : 'XYZ'
