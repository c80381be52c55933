import type { ControlValue } from '#core/display'
import type { VisualCheckView } from '#server/view'

/** A question that only eyes can answer: the pattern, what to look for, and how to say it. */
export const Look = ({
  look,
  session,
  value,
  onValue,
  onAnswer,
}: {
  look: VisualCheckView
  session: number
  value: ControlValue | null
  onValue: (value: ControlValue) => void
  onAnswer: (answer: string) => void
}) => {
  const { control } = look
  return (
    <>
      <p className="text-soft">Visual check on the pattern “{look.title.toLowerCase()}”</p>
      <h1 className="figure text-5xl">{look.title}</h1>
      <p className="max-w-3xl text-lg">{look.ask}</p>
      {look.policy && <p className="text-soft">{look.policy}</p>}
      {look.caution && (
        <p className="flex max-w-3xl gap-3 text-lamp">
          <span aria-hidden="true" className="mt-2 size-2 shrink-0 border border-lamp" />
          {look.caution}
        </p>
      )}
      <p>
        <a
          href={`/patterns/${look.pattern}?session=${session}`}
          target="_blank"
          rel="noreferrer"
          className="link"
        >
          Open the pattern
        </a>{' '}
        <span className="text-soft">
          in a browser on the display, full screen; or play it from a file:{' '}
          <a href={`/patterns/${look.pattern}/png`} className="link" download>
            PNG
          </a>
          .
        </span>
      </p>
      {control ? (
        <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
          <div className="grid gap-1">
            <label htmlFor="looked" className="text-sm text-soft">
              {[...control.path, control.label].join(' › ')}, right at
            </label>
            {control.kind === 'choice' ? (
              <select
                id="looked"
                className="field min-w-52"
                value={String(value ?? control.value)}
                onChange={(e) => onValue(e.target.value)}
              >
                {control.choices?.map((c) => (
                  <option key={c.value} value={c.value}>
                    {c.label}
                  </option>
                ))}
              </select>
            ) : (
              <input
                id="looked"
                type="number"
                className="field num w-40!"
                min={control.min}
                max={control.max}
                step={control.step}
                value={String(value ?? control.value)}
                onChange={(e) => onValue(e.target.value === '' ? '' : Number(e.target.value))}
              />
            )}
          </div>
          <span className="pb-2.5 text-soft">
            now {control.shown}; <span className="key">←</span> <span className="key">→</span> change it
          </span>
        </div>
      ) : (
        <ol className="grid gap-1 text-lg">
          {look.answers.map((a, i) => (
            <li key={a.key}>
              <button type="button" className="act text-ink" onClick={() => onAnswer(a.key)}>
                <span className="key border-lamp! text-lamp!">{i + 1}</span>
                {a.text}
              </button>
            </li>
          ))}
        </ol>
      )}
    </>
  )
}
