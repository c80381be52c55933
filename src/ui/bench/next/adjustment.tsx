import type { LastAdjustmentView, OutcomeView, RunView } from '#server/view'
import { duration, luminance } from '#ui/static'

const amount = (quantity: OutcomeView['quantity'], value: number) =>
  quantity === 'luminance' ? `${luminance(value)} cd/m²` : value.toFixed(quantity === 'tone' ? 2 : 1)

const PHASE: Readonly<Record<RunView['status'], string>> = {
  queued: 'Starting',
  running: 'Reading',
  paused: 'Paused',
  waiting: 'Waiting',
  asking: 'Your turn',
  stopped: 'Stopped',
  done: 'Done',
  cancelled: 'Cancelled',
}

/** A run that goes on: what is being read, how far, how long. */
export const Running = ({ run }: { run: RunView }) => {
  const halted = run.status === 'stopped' || run.status === 'waiting'
  return (
    <>
      <p className="text-soft">{run.title}</p>
      <h1 className="figure flex min-h-18 flex-wrap items-baseline gap-x-5 text-6xl">
        <span className={halted && !run.settling ? 'text-lamp' : ''}>
          {run.settling ? 'Settling' : PHASE[run.status]}
        </span>
        {!halted && run.current && <span className="font-normal text-faint">{run.current}</span>}
      </h1>
      <div
        role="progressbar"
        aria-label="Patches read"
        aria-valuemin={0}
        aria-valuemax={run.total}
        aria-valuenow={run.done}
        className="flex h-3 gap-[3px]"
      >
        {Array.from({ length: run.total }, (_, i) => i + 1).map((patch) => (
          <span
            key={patch}
            className={`flex-1 ${patch <= run.done ? 'bg-ink' : patch === run.done + 1 ? 'bg-faint' : 'bg-line'}`}
          />
        ))}
      </div>
      <p className="min-h-14 text-soft" aria-live="polite">
        {halted ? (
          <span className={run.settling ? 'text-soft' : 'text-lamp'}>{run.reason}</span>
        ) : run.total > 0 ? (
          <>
            {run.done} of {run.total} patches
            {run.secondsLeft && run.status === 'running' ? `, ${duration(run.secondsLeft)} left` : ''}
          </>
        ) : (
          'Setting the display'
        )}
      </p>
    </>
  )
}

const Outcome = ({ outcome }: { outcome: OutcomeView }) => (
  <li className="flex items-baseline gap-2 whitespace-nowrap">
    <span className="text-faint">{outcome.patch}</span>
    <span className="num text-soft">{amount(outcome.quantity, outcome.before)}</span>
    <span aria-hidden="true">→</span>
    <span className="sr-only">to</span>
    <strong className={`num ${outcome.asExpected === false ? 'text-lamp' : ''}`}>
      {outcome.measured === undefined ? '–' : amount(outcome.quantity, outcome.measured)}
    </strong>
    <span className="text-xs text-faint">{amount(outcome.quantity, outcome.expected)} expected</span>
  </li>
)

const MOST_NAMED = 3
const MOST_OUTCOMES = 4

/** What the adjustment before this one did, against what it should have done. */
export const LastAdjustment = ({ adjustment }: { adjustment: LastAdjustmentView }) => {
  const wrong = adjustment.outcomes.filter((o) => o.asExpected === false)
  const off = wrong.length > 0
  const shown = (off ? wrong : adjustment.outcomes).slice(0, MOST_OUTCOMES)
  return (
    <section
      aria-label="Last adjustment"
      className="flex shrink-0 flex-wrap items-baseline gap-x-6 gap-y-1 text-sm"
    >
      <span className="text-soft">
        {adjustment.kind === 'put-back' ? 'Undone: ' : 'Last adjustment: '}
        {adjustment.changes
          .slice(0, MOST_NAMED)
          .map((c) => `${c.name} ${c.from} → ${c.to}`)
          .join(', ')}
        {adjustment.changes.length > MOST_NAMED && ` and ${adjustment.changes.length - MOST_NAMED} more`}
      </span>
      <ul className="flex flex-wrap gap-x-6">
        {shown.map((o) => (
          <Outcome key={o.patch} outcome={o} />
        ))}
      </ul>
      {adjustment.outcomes.length > 0 && (
        <span className={off ? 'text-lamp' : 'text-faint'}>
          {off
            ? 'Not as expected: check that the display kept the value. The next adjustment is based on what was read.'
            : 'as expected'}
        </span>
      )}
    </section>
  )
}
