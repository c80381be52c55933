'use client'

import { type FormEvent, useEffect, useId, useState } from 'react'
import type { ChangeView, ReadingView, SessionView } from '#server/views'
import { luminance } from '#ui/desk'
import { Dialog } from './dialog'
import type { KeyRow } from './key-table'
import type { Send } from './use-session'

/** All keys that do something now. */
export const KeysDialog = ({ rows, onClose }: { rows: readonly KeyRow[]; onClose: () => void }) => (
  <Dialog title="Keys" note="The whole loop works from these; the pointer is never needed." onClose={onClose}>
    <dl className="grid grid-cols-[5rem_1fr] items-center gap-y-2">
      {rows.map((r) => (
        <div key={r.key} className="contents">
          <dt>
            <span className="key">{r.cap}</span>
          </dt>
          <dd>{r.label}</dd>
        </div>
      ))}
    </dl>
  </Dialog>
)

/** Everything about one reading: what was shown, what was read, under which settings. */
export const ReadingDialog = ({
  session,
  reading,
  onClose,
}: {
  session: number
  reading: number
  onClose: () => void
}) => {
  const [view, setView] = useState<ReadingView>()
  const [error, setError] = useState('')
  useEffect(() => {
    let gone = false
    fetch(`/api/sessions/${session}/readings/${reading}`)
      .then(async (r) => {
        const body = (await r.json()) as ReadingView & { error?: string }
        if (gone) return
        if (r.ok) setView(body)
        else setError(body.error ?? 'The reading could not be opened.')
      })
      .catch(
        () => !gone && setError('The server did not answer. The reading is kept; open it again in a moment.'),
      )
    return () => {
      gone = true
    }
  }, [session, reading])
  const row = (name: string, value: string, warn = false) => (
    <div key={name} className="rule-b grid grid-cols-[9rem_1fr] gap-3 py-1.5">
      <dt className="text-sm text-faint">{name}</dt>
      <dd className={`num text-sm ${warn ? 'text-lamp' : ''}`}>{value}</dd>
    </div>
  )
  return (
    <Dialog title={view ? `Reading of ${view.patch}` : 'Reading'} note={view?.run} onClose={onClose}>
      {error && <p className="text-lamp">{error}</p>}
      {!view && !error && <p className="min-h-80 text-faint">Opening …</p>}
      {view && (
        <>
          {view.fault && (
            <p className="mb-3 text-lamp">
              {view.fault} Kept as received, not used: <span className="num">{view.raw}</span>
            </p>
          )}
          <dl>
            {view.xyz && row('X, Y, Z', `${view.xyz.map(luminance).join('  ')} cd/m²`)}
            {view.xyz &&
              view.sigma !== null &&
              row('Luminance', `${luminance(view.xyz[1])} ± ${view.sigma.toPrecision(1)} cd/m²`)}
            {view.xy && row('x, y', view.xy.map((v) => v.toFixed(4)).join(', '))}
            {view.uv && row('u′, v′', view.uv.map((v) => v.toFixed(4)).join(', '))}
            {row('Codes shown', view.codes.join(' '))}
            {view.circumstances.map((c) => row(c.name, c.text, c.warn))}
            {row('Meter', view.meter)}
            {row(
              'Took',
              `${view.duration.toFixed(1)} s${view.attempt > 1 ? `, attempt ${view.attempt}` : ''}`,
            )}
            {row('Taken', view.takenAt.replace('T', ' ').slice(0, 19))}
          </dl>
          <details className="mt-4">
            <summary className="text-sm text-soft">Settings of the display at that moment</summary>
            <table className="quiet-table mt-2 text-sm">
              <tbody>
                {view.state.map((s) => (
                  <tr key={s.label}>
                    <th scope="row">{s.label}</th>
                    <td className={s.changed ? 'n font-semibold' : 'n text-faint'}>{s.shown}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </details>
        </>
      )}
    </Dialog>
  )
}

/** Another value for a control, or another target: typed by the reviewer. */
export const SetDialog = ({
  view,
  suggested,
  error,
  send,
  onClose,
}: {
  view: SessionView
  suggested?: string
  error: string
  send: Send
  onClose: () => void
}) => {
  const [key, setKey] = useState(suggested ?? view.controls[0]?.key ?? '')
  const control = view.controls.find((c) => c.key === key)
  const [typed, setTyped] = useState<string>()
  const [wrong, setWrong] = useState('')
  const id = useId()
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    if (!control) return
    const text = typed ?? String(control.value)
    const value = control.kind === 'number' ? Number(text.replace('−', '-').replace(',', '.')) : text
    if (control.kind === 'number' && (text.trim() === '' || !Number.isFinite(value))) {
      setWrong(`“${text}” is not a number. “${control.label}” stays at ${control.shown}.`)
      return
    }
    setWrong('')
    if (await send({ type: 'set', control: control.key, value })) onClose()
  }
  return (
    <Dialog
      title="Another value"
      note="Set on the display and read again. Steps that depend on it are marked stale."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4" noValidate>
        <div>
          <label htmlFor={`${id}-control`} className="mb-1 block text-sm text-soft">
            Control
          </label>
          <select
            id={`${id}-control`}
            className="field"
            value={key}
            onChange={(e) => {
              setKey(e.target.value)
              setTyped(undefined)
              setWrong('')
            }}
          >
            {view.controls.map((c) => (
              <option key={c.key} value={c.key}>
                {[...c.path, c.label].join(' › ')}
              </option>
            ))}
          </select>
        </div>
        {control && (
          <div>
            <label htmlFor={`${id}-value`} className="mb-1 block text-sm text-soft">
              Value, now {control.shown}
              {control.kind === 'number' ? `, from ${control.min} to ${control.max}` : ''}
            </label>
            {control.kind === 'choice' ? (
              <select
                id={`${id}-value`}
                data-first
                className="field"
                value={typed ?? String(control.value)}
                onChange={(e) => setTyped(e.target.value)}
              >
                {control.choices?.map((c) => (
                  <option key={c.value} value={c.value}>
                    {c.label}
                  </option>
                ))}
              </select>
            ) : (
              <input
                id={`${id}-value`}
                data-first
                className="field num"
                inputMode="numeric"
                autoComplete="off"
                aria-invalid={Boolean(wrong) || undefined}
                aria-describedby={`${id}-wrong`}
                value={typed ?? String(control.value)}
                onChange={(e) => setTyped(e.target.value)}
              />
            )}
            <p id={`${id}-wrong`} role="alert" className="mt-1 min-h-5 text-sm text-lamp">
              {wrong || error}
            </p>
          </div>
        )}
        <button type="submit" className="button">
          Set it and read
        </button>
      </form>
    </Dialog>
  )
}

/** Another policy, or another luminance than it says. */
export const TargetDialog = ({
  view,
  error,
  send,
  onClose,
}: {
  view: SessionView
  error: string
  send: Send
  onClose: () => void
}) => {
  const [typed, setTyped] = useState(String(view.targets.luminance))
  const [policy, setPolicy] = useState(view.policy.key)
  const [wrong, setWrong] = useState('')
  const id = useId()
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    if (policy !== view.policy.key) {
      if (await send({ type: 'policy', policy })) onClose()
      return
    }
    const value = Number(typed.replace(',', '.'))
    if (typed.trim() === '' || !Number.isFinite(value)) {
      setWrong(`“${typed}” is not a number. The target stays at ${view.targets.luminance} cd/m².`)
      return
    }
    setWrong('')
    if (await send({ type: 'target', luminance: value })) onClose()
  }
  const other = policy !== view.policy.key
  const known = view.policies.some((p) => p.key === view.policy.key)
  return (
    <Dialog
      title="Targets and policy"
      note="Readings stay; the route is planned anew from them."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4" noValidate>
        <div>
          <label htmlFor={`${id}-policy`} className="mb-1 block text-sm text-soft">
            Policy
          </label>
          <select
            id={`${id}-policy`}
            className="field"
            value={policy}
            onChange={(e) => setPolicy(e.target.value)}
          >
            {!known && <option value={view.policy.key}>{view.policy.name}</option>}
            {view.policies.map((p) => (
              <option key={p.key} value={p.key}>
                {p.name}
              </option>
            ))}
          </select>
          <p className="mt-1 text-sm text-faint">
            What each says stands under{' '}
            <a href="/policies" className="link">
              policies
            </a>
            . Another one brings its own targets.
          </p>
        </div>
        <div>
          <label htmlFor={id} className="mb-1 block text-sm text-soft">
            Luminance of white, cd/m²
          </label>
          <input
            id={id}
            data-first
            className="field num"
            inputMode="decimal"
            autoComplete="off"
            disabled={other}
            aria-invalid={Boolean(wrong || error) || undefined}
            aria-describedby={`${id}-wrong`}
            value={other ? 'as the policy says' : typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <p id={`${id}-wrong`} role="alert" className="mt-1 min-h-5 text-sm text-lamp">
            {wrong || error}
          </p>
        </div>
        <button type="submit" className="button">
          {other ? 'Follow this policy' : 'Aim at this'}
        </button>
      </form>
    </Dialog>
  )
}

/** Another picture mode to calibrate. */
export const ModeDialog = ({
  view,
  error,
  send,
  onClose,
}: {
  view: SessionView
  error: string
  send: Send
  onClose: () => void
}) => {
  const current = view.findings.survey.find((m) => m.chosen)?.mode
  const [mode, setMode] = useState(current ?? view.modes[0]?.value ?? '')
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    if (await send({ type: 'choose-mode', mode })) onClose()
  }
  return (
    <Dialog
      title="Mode to calibrate"
      note="What was read of other modes is kept. The route begins again in this one."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4">
        <div role="radiogroup" aria-label="Picture mode" className="grid">
          {view.modes.map((m) => {
            const row = view.findings.survey.find((r) => r.mode === m.value)
            return (
              <label key={m.value} className="rule-b grid grid-cols-[1.2rem_1fr] gap-x-3 py-1.5">
                <input
                  type="radio"
                  name="mode"
                  value={m.value}
                  checked={mode === m.value}
                  onChange={() => setMode(m.value)}
                  className="mt-1.5"
                />
                <span>
                  {m.label}
                  <span className="block text-sm text-faint">{row?.sentence ?? 'Not surveyed.'}</span>
                  {row?.against && <span className="block text-sm text-lamp">{row.against}</span>}
                </span>
              </label>
            )
          })}
        </div>
        {error && (
          <p role="alert" className="text-lamp">
            {error}
          </p>
        )}
        <button type="submit" className="button">
          Take this mode
        </button>
      </form>
    </Dialog>
  )
}

/** The menu shows something else than what was asked for. */
export const CorrectDialog = ({
  view,
  changes,
  error,
  send,
  onClose,
}: {
  view: SessionView
  changes: readonly ChangeView[]
  error: string
  send: Send
  onClose: () => void
}) => {
  const [key, setKey] = useState(changes[0]?.control ?? '')
  const control = view.controls.find((c) => c.key === key)
  const [typed, setTyped] = useState('')
  const [wrong, setWrong] = useState('')
  const id = useId()
  const submit = async (event: FormEvent) => {
    event.preventDefault()
    if (!control) return
    const value = control.kind === 'number' ? Number(typed.replace('−', '-').replace(',', '.')) : typed
    if (typed.trim() === '' || (control.kind === 'number' && !Number.isFinite(value))) {
      setWrong('Say what the menu shows. Nothing was changed.')
      return
    }
    setWrong('')
    if (await send({ type: 'correct', control: control.key, value })) onClose()
  }
  return (
    <Dialog
      title="What the menu shows"
      note="What was read since belongs to that value, and is put there. Nothing is lost."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4" noValidate>
        <div>
          <label htmlFor={`${id}-control`} className="mb-1 block text-sm text-soft">
            Control
          </label>
          <select
            id={`${id}-control`}
            className="field"
            value={key}
            onChange={(e) => {
              setKey(e.target.value)
              setTyped('')
            }}
          >
            {changes.map((c) => (
              <option key={c.control} value={c.control}>
                {[...c.path, c.label].join(' › ')}
              </option>
            ))}
          </select>
        </div>
        {control && (
          <div>
            <label htmlFor={`${id}-value`} className="mb-1 block text-sm text-soft">
              Value on the screen; {control.shown} was asked for
            </label>
            {control.kind === 'choice' ? (
              <select
                id={`${id}-value`}
                data-first
                className="field"
                value={typed}
                onChange={(e) => setTyped(e.target.value)}
              >
                <option value="">Choose</option>
                {control.choices?.map((c) => (
                  <option key={c.value} value={c.value}>
                    {c.label}
                  </option>
                ))}
              </select>
            ) : (
              <input
                id={`${id}-value`}
                data-first
                className="field num"
                inputMode="numeric"
                autoComplete="off"
                aria-invalid={Boolean(wrong) || undefined}
                aria-describedby={`${id}-wrong`}
                value={typed}
                onChange={(e) => setTyped(e.target.value)}
              />
            )}
            <p id={`${id}-wrong`} role="alert" className="mt-1 min-h-5 text-sm text-lamp">
              {wrong || error}
            </p>
          </div>
        )}
        <button type="submit" className="button">
          Put it right
        </button>
      </form>
    </Dialog>
  )
}
