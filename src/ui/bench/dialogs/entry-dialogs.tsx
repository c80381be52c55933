'use client'

import { z } from 'zod'
import { settingEntry, typedNumber } from '#core/entry'
import type { ChangeView, ControlView, SessionView } from '#server/view'
import { Field, FormProblem, useEntry } from '#ui/form'
import type { Send } from '../use-session'
import { Dialog } from './dialog'

/** A window of the bench in which something is entered. */
interface EntryDialog {
  readonly view: SessionView
  /** Why the last command was not carried out. */
  readonly error: string
  readonly send: Send
  readonly onClose: () => void
}

/** What a command answers a form: nothing; where it was not carried out, the window says why and stays. */
const sent = async (carriedOut: Promise<boolean>, onClose: () => void): Promise<undefined> => {
  if (await carriedOut) onClose()
}

interface NamedControl {
  readonly control: string
  readonly path: readonly string[]
  readonly label: string
}

/** A control and a value of it, typed or chosen. */
const SettingForm = ({
  controls,
  controlOf,
  begin,
  valueLabel,
  why,
  button,
  error,
  onSetting,
}: {
  controls: readonly NamedControl[]
  controlOf: (key: string) => ControlView | undefined
  /** Value to begin with. In: key of a control. */
  begin: (key: string) => string
  valueLabel: (control: ControlView) => string
  /** What is said of what is no value. */
  why: (text: string, control: ControlView | undefined) => string
  button: string
  error: string
  onSetting: (setting: { control: string; value: string | number }) => Promise<undefined>
}) => {
  const first = controls[0]?.control ?? ''
  const schema = settingEntry(controlOf, (text, key) => why(text, controlOf(key)))
  const { form, submit, ready } = useEntry(schema, { control: first, value: begin(first) }, onSetting)
  const key = form.watch('control')
  const control = controlOf(key)
  return (
    <form onSubmit={submit} className="grid gap-4" noValidate>
      <Field form={form} name="control" label="Control">
        {({ onChange, ...props }) => (
          <select
            {...props}
            onChange={(event) => {
              form.setValue('value', begin(event.target.value))
              form.clearErrors()
              return onChange(event)
            }}
          >
            {controls.map((c) => (
              <option key={c.control} value={c.control}>
                {[...c.path, c.label].join(' › ')}
              </option>
            ))}
          </select>
        )}
      </Field>
      {control && (
        <Field key={key} form={form} name="value" label={valueLabel(control)}>
          {(props) =>
            control.kind === 'choice' ? (
              <select {...props} data-first>
                {begin(key) === '' && <option value="">Choose</option>}
                {control.choices?.map((c) => (
                  <option key={c.value} value={c.value}>
                    {c.label}
                  </option>
                ))}
              </select>
            ) : (
              <input {...props} className="field num" data-first inputMode="numeric" autoComplete="off" />
            )
          }
        </Field>
      )}
      <FormProblem text={error || undefined} />
      <button type="submit" className="button" disabled={!ready}>
        {button}
      </button>
    </form>
  )
}

/** Another value for a control, typed by the reviewer. */
export const SetDialog = ({
  view,
  suggested,
  error,
  send,
  onClose,
}: EntryDialog & { suggested?: string }) => {
  const controlOf = (key: string) => view.controls.find((c) => c.key === key)
  const controls = view.controls.map(({ key, path, label }) => ({ control: key, path, label }))
  return (
    <Dialog
      title="Another value"
      note="Set on the display and read again. Steps that depend on it are marked stale."
      onClose={onClose}
    >
      <SettingForm
        controls={[
          ...controls.filter((c) => c.control === suggested),
          ...controls.filter((c) => c.control !== suggested),
        ]}
        controlOf={controlOf}
        begin={(key) => String(controlOf(key)?.value ?? '')}
        valueLabel={(c) => `Value, now ${c.shown}${c.kind === 'number' ? `, from ${c.min} to ${c.max}` : ''}`}
        why={(text, c) => `“${text}” is not a number. “${c?.label}” stays at ${c?.shown}.`}
        button="Set it and read"
        error={error}
        onSetting={(setting) => sent(send({ type: 'set', ...setting }), onClose)}
      />
    </Dialog>
  )
}

/** The menu shows something else than is believed. In: changes that are asked for or were made last, which come first. */
export const CorrectDialog = ({
  view,
  changes,
  error,
  send,
  onClose,
}: EntryDialog & { changes: readonly ChangeView[] }) => {
  const controlOf = (key: string) => view.controls.find((c) => c.key === key)
  const first = new Set(changes.map((c) => c.control))
  const controls = [
    ...view.controls.filter((c) => first.has(c.key)),
    ...view.controls.filter((c) => !first.has(c.key)),
  ].map(({ key, path, label }) => ({ control: key, path, label }))
  return (
    <Dialog
      title="What the menu shows"
      note="What was read with the wrong value is moved to the right one. Nothing is lost. If you were being asked to set values, the next adjustment is worked out again."
      onClose={onClose}
    >
      <SettingForm
        controls={controls}
        controlOf={controlOf}
        begin={() => ''}
        valueLabel={(c) => `Value on the screen; Wexmar expects ${c.shown}`}
        why={() => 'Enter what the menu shows. Nothing was changed.'}
        button="Correct it"
        error={error}
        onSetting={({ control, value }) =>
          sent(send({ type: 'shows', values: { [control]: value } }), onClose)
        }
      />
    </Dialog>
  )
}

/** Another policy, or another luminance than it says. */
export const TargetDialog = ({ view, error, send, onClose }: EntryDialog) => {
  const { luminance } = view.targets
  const target = typedNumber((text) => `“${text}” is not a number. The target stays at ${luminance} cd/m².`)
  const schema = z.object({ policy: z.string(), luminance: z.string() }).transform((entry, context) => {
    if (entry.policy !== view.policy.key) return { type: 'policy' as const, policy: entry.policy }
    const parsed = target.safeParse(entry.luminance)
    if (parsed.success) return { type: 'target' as const, luminance: parsed.data }
    for (const { message } of parsed.error.issues)
      context.addIssue({ code: 'custom', path: ['luminance'], message })
    return z.NEVER
  })
  const begin = { policy: view.policy.key, luminance: String(luminance) }
  const { form, submit, ready } = useEntry(schema, begin, (command) => sent(send(command), onClose))
  const other = form.watch('policy') !== view.policy.key
  const known = view.policies.some((p) => p.key === view.policy.key)
  return (
    <Dialog
      title="Targets and policy"
      note="Readings are kept; the route is planned again from them."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4" noValidate>
        <div>
          <Field form={form} name="policy" label="Policy">
            {(props) => (
              <select {...props}>
                {!known && <option value={view.policy.key}>{view.policy.name}</option>}
                {view.policies.map((p) => (
                  <option key={p.key} value={p.key}>
                    {p.name}
                  </option>
                ))}
              </select>
            )}
          </Field>
          <p className="text-sm text-faint">
            What each says stands under{' '}
            <a href="/policies" className="link">
              policies
            </a>
            . Another one brings its own targets.
          </p>
        </div>
        {other ? (
          <p className="text-soft">
            {view.hdr
              ? 'White point and tone mapping as the policy says.'
              : 'Luminance, white point and tone as the policy says.'}
          </p>
        ) : view.hdr ? (
          <p className="text-soft">
            In HDR the signal says how bright a patch is: there is no luminance to aim at.
          </p>
        ) : (
          <Field form={form} name="luminance" label="Luminance of white, cd/m²">
            {(props) => (
              <input {...props} className="field num" data-first inputMode="decimal" autoComplete="off" />
            )}
          </Field>
        )}
        <FormProblem text={error || undefined} />
        <button type="submit" className="button" disabled={!ready || (view.hdr && !other)}>
          {other || view.hdr ? 'Use this policy' : 'Set this target'}
        </button>
      </form>
    </Dialog>
  )
}

const ModeEntry = z.object({ mode: z.string() })

/** Another picture mode to calibrate. */
export const ModeDialog = ({ view, error, send, onClose }: EntryDialog) => {
  const chosen = view.findings.survey.find((m) => m.chosen)?.mode
  const begin = { mode: chosen ?? view.modes[0]?.value ?? '' }
  const { form, submit, ready } = useEntry(ModeEntry, begin, ({ mode }) =>
    sent(send({ type: 'choose-mode', mode }), onClose),
  )
  return (
    <Dialog
      title="Mode to calibrate"
      note="Readings of other modes are kept. The route starts again in this one."
      onClose={onClose}
    >
      <form onSubmit={submit} className="grid gap-4">
        <div role="radiogroup" aria-label="Picture mode" className="grid">
          {view.modes.map((m) => {
            const row = view.findings.survey.find((r) => r.mode === m.value)
            return (
              <label key={m.value} className="rule-b grid grid-cols-[1.2rem_1fr] gap-x-3 py-1.5">
                <input type="radio" value={m.value} className="mt-1.5" {...form.register('mode')} />
                <span>
                  {m.label}
                  <span className="block text-sm text-faint">{row?.sentence ?? 'Not surveyed.'}</span>
                  {row?.against && <span className="block text-sm text-lamp">{row.against}</span>}
                </span>
              </label>
            )
          })}
        </div>
        <FormProblem text={error || undefined} />
        <button type="submit" className="button" disabled={!ready}>
          Use this mode
        </button>
      </form>
    </Dialog>
  )
}
