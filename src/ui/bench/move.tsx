import { Fragment } from 'react'
import type { ChangeView, LastMoveView, NextView, OutcomeView, RunView, SessionView } from '#server/views'
import { duration, luminance } from '#ui/desk'

const Path = ({ path }: { path: readonly string[] }) => (
  <p className="flex flex-wrap gap-x-2 text-soft">
    {path.map((p, i) => (
      <Fragment key={p}>
        {i > 0 && <span aria-hidden="true">›</span>}
        <span>{p}</span>
      </Fragment>
    ))}
  </p>
)

const clicksInWords = ({ clicks }: ChangeView): string =>
  clicks === undefined
    ? ''
    : `${Math.abs(clicks)} ${Math.abs(clicks) === 1 ? 'click' : 'clicks'} ${clicks > 0 ? 'up' : 'down'}`

interface Size {
  readonly label: string
  readonly from: string
  readonly to: string
}
/** The fewer controls a move has, the larger they stand. */
const SIZES: readonly Size[] = [
  { label: 'text-6xl', from: 'text-5xl', to: 'text-8xl' },
  { label: 'text-5xl', from: 'text-4xl', to: 'text-7xl' },
  { label: 'text-3xl', from: 'text-2xl', to: 'text-5xl' },
]

/** One control of a move, readable from two metres. */
const ChangeLine = ({ change, size }: { change: ChangeView; size: Size }) => (
  <div className="flex items-baseline gap-x-4 max-sm:flex-wrap">
    <span className={`figure ${size.label}`}>{change.label}</span>
    <span className={`figure font-normal text-faint ${size.from}`}>{change.from}</span>
    <span className="sr-only">to</span>
    <span className={`figure text-lamp leading-none ${size.to}`}>{change.to}</span>
    <span className="ml-auto text-right font-semibold whitespace-nowrap">{clicksInWords(change)}</span>
  </div>
)

const amount = (quantity: 'white-error' | 'luminance', value: number) =>
  quantity === 'luminance' ? `${luminance(value)} cd/m²` : value.toFixed(1)

const Expectation = ({ next }: { next: Extract<NextView, { kind: 'move' }> }) => {
  const { quantity, before, after, sigma } = next.expected
  const light = quantity === 'luminance'
  const digits = light ? 0 : 1
  const unit = light ? ' cd/m²' : ''
  return (
    <p className="text-lg">
      {next.purpose}{' '}
      <span className="text-soft">
        {light ? 'White' : 'Average white error, ΔE00'}: {before.toFixed(digits)}
        {unit} now,{' '}
        <strong className="text-ink">
          {after.toFixed(digits)} ± {Math.max(sigma, light ? 1 : 0.1).toFixed(digits)}
          {unit}
        </strong>{' '}
        expected. Then reads {next.reads.join(', ')}.
      </span>
    </p>
  )
}

const PREPARE = [
  'Protective film is off, the screen is clean, the room is dark.',
  'The meter is aimed at the middle, square to the screen.',
  'The display has been on for 45 minutes or more; the strip on top says how long.',
]

const Prepare = ({ next }: { next: Extract<NextView, { kind: 'prepare' }> }) => (
  <>
    <p className="text-soft">Before anything is read</p>
    <h1 className="figure text-5xl">Prepare “{next.baseMode}”</h1>
    <ul className="grid gap-1">
      {PREPARE.map((line) => (
        <li key={line} className="flex gap-3">
          <span aria-hidden="true" className="text-faint">
            –
          </span>
          {line}
        </li>
      ))}
    </ul>
    <p className="text-soft">
      Then the settings of this mode are reset, and set for measuring:{' '}
      {next.changes.map((c, i) => (
        <Fragment key={c.control}>
          {i > 0 && ', '}
          <span className="whitespace-nowrap text-ink">
            {c.label} {c.from} → <strong className="text-lamp">{c.to}</strong>
          </span>
        </Fragment>
      ))}
      .
    </p>
    <p className="max-w-2xl text-sm text-faint">
      Lift a large display with two people, on a stand or wall mount made for its weight; never open it. Late
      at night, rest your eyes between sweeps. The maker’s instructions and local rules come first.
    </p>
  </>
)

const SWEEP = {
  factory: {
    above: 'How it comes',
    title: 'Factory sweep',
    text: 'Eleven greys and the three primaries, before any move. Everything later is measured against it.',
  },
  verify: {
    above: 'How it ends',
    title: 'Verification sweep',
    text: 'The same patches again in the final state, to see before and after side by side.',
  },
} as const

const Sweep = ({ next }: { next: Extract<NextView, { kind: 'sweep' }> }) => {
  const { above, title, text } = SWEEP[next.purpose]
  const rest = next.patches < 14
  return (
    <>
      <p className="text-soft">{above}</p>
      <h1 className="flex flex-wrap items-baseline gap-x-5">
        <span className="figure text-6xl">{title}</span>
        <span className="figure text-5xl font-normal text-lamp">
          {next.patches} {next.patches === 1 ? 'patch' : 'patches'}
        </span>
      </h1>
      <p className="text-lg">
        {rest ? 'The patches that are still missing.' : text}{' '}
        <span className="text-soft">
          {next.seconds ? `Takes about ${duration(next.seconds)}.` : 'Takes well under a minute here.'}
        </span>
      </p>
    </>
  )
}

/** The next move, and nothing else: what to press and what it will do. */
export const NextMove = ({ view }: { view: SessionView }) => {
  const { next } = view
  if (next.kind === 'prepare') return <Prepare next={next} />
  if (next.kind === 'sweep') return <Sweep next={next} />
  if (next.kind === 'compose') return <Finish view={view} />
  const size = SIZES[Math.min(next.changes.length, SIZES.length) - 1]!
  const cautions = [...new Set(next.changes.flatMap((c) => c.caution ?? []))]
  const memories = [...new Set(next.changes.map((c) => c.memory))]
  return (
    <>
      <Path path={next.changes[0]!.path} />
      <h1 className={`grid gap-x-10 gap-y-1 ${next.changes.length > 2 ? 'md:grid-cols-2' : ''}`}>
        {next.changes.map((c) => (
          <ChangeLine key={c.control} change={c} size={size} />
        ))}
      </h1>
      <Expectation next={next} />
      <p className="text-sm text-faint">
        {cautions.map((c) => (
          <span key={c} className="text-soft">
            {c}{' '}
          </span>
        ))}
        {memories.join(' ')}
      </p>
    </>
  )
}

const Finish = ({ view }: { view: SessionView }) => {
  const before = view.factory?.verdict
  const after = view.after?.verdict
  const improved = before && after && after.whiteError.average < before.whiteError.average
  return (
    <>
      <p className="text-soft">
        {view.guide?.published ? 'The guide is published.' : 'All stations are done.'}
      </p>
      <h1 className="figure text-5xl">
        {!before || !after ? (
          'Before and after'
        ) : (
          <>
            White error <span className="font-normal text-faint">{before.whiteError.average.toFixed(1)}</span>{' '}
            <span className="sr-only">to</span>
            <span className="text-lamp">{after.whiteError.average.toFixed(1)}</span>
            <span className="text-3xl font-normal text-soft">
              , white {before.white.luminance.toFixed(0)} → {after.white.luminance.toFixed(0)} cd/m²
            </span>
          </>
        )}
      </h1>
      {view.after?.worse.map((w) => (
        <p key={w} className="text-lamp">
          Worse than before: {w}
        </p>
      ))}
      <p className="text-soft">
        {improved
          ? 'A further click would gain less than the meter can tell apart.'
          : 'The factory state was as good as it gets here; the guide may say so.'}
      </p>
    </>
  )
}

const PHASE: Readonly<Record<RunView['status'], string>> = {
  queued: 'Starting',
  running: 'Reading',
  paused: 'Paused',
  waiting: 'Waiting for the bench',
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
        <span className={halted ? 'text-lamp' : ''}>{PHASE[run.status]}</span>
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
          <span className="text-lamp">{run.reason}</span>
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

/** What the move before this one did, against what it should have done. */
export const LastMove = ({ move }: { move: LastMoveView }) => {
  const off = move.outcomes.some((o) => o.asExpected === false)
  return (
    <section
      aria-label="Last move"
      className="flex shrink-0 flex-wrap items-baseline gap-x-6 gap-y-1 text-sm"
    >
      <span className="text-soft">
        {move.kind === 'put-back' ? 'Put back: ' : 'Last move: '}
        {move.changes.map((c) => `${c.label} ${c.from} → ${c.to}`).join(', ')}
      </span>
      <ul className="flex flex-wrap gap-x-6">
        {move.outcomes.map((o) => (
          <Outcome key={o.patch} outcome={o} />
        ))}
      </ul>
      {move.outcomes.length > 0 && (
        <span className={off ? 'text-lamp' : 'text-faint'}>
          {off
            ? 'Not as expected: look whether the display kept the value; the next move reckons with what was read.'
            : 'as expected'}
        </span>
      )}
    </section>
  )
}
