'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useMemo, useReducer, useState } from 'react'
import type { SessionView } from '#server/view'
import { LocalTime } from '#ui/desk'
import {
  type BenchEvent,
  type BenchState,
  benchReducer,
  chosenPanel,
  INITIAL_STATE,
  type OpenWindow,
} from './bench-state'
import { BenchWindow } from './bench-window'
import { Blackout } from './blackout'
import { Evidence } from './evidence/evidence'
import { PANEL_OF, type PanelKey, stepAtHand } from './evidence/panel-of-step'
import { ReadingLog } from './evidence/reading-log'
import { Route } from './evidence/route'
import { type KeyRow, keyTable } from './key-table'
import { useKeys } from './keys'
import { LastAdjustment, Running } from './next/adjustment'
import { Asking } from './next/ask'
import { NextAdjustment } from './next/next-adjustment'
import { NO_TICKS, type Ticks } from './next/ticks'
import { SessionHeader } from './session-header'
import { type Send, useSession } from './use-session'

/** The bench: session header, route, the one next adjustment with its evidence, reading log. */
export const Bench = ({ first, guideHref }: { first: SessionView; guideHref: string }) => {
  const { view, lost, busy, error, failed, send, wake, clearError } = useSession(first)
  const router = useRouter()
  const [state, dispatch] = useReducer(benchReducer, INITIAL_STATE)
  const { run, next } = view
  const rows = useMemo(() => keyTable(view, state), [view, state])
  const perform = useCallback(
    ({ deed }: KeyRow) => {
      if (deed.kind === 'command') void send(deed.command)
      else if (deed.kind === 'event') dispatch(deed.event)
      else if (deed.kind === 'wake') wake()
      else router.push(guideHref)
    },
    [send, wake, router, guideHref],
  )
  useKeys(rows, perform, state.open === undefined, busy)
  const open = (window: OpenWindow) => dispatch({ type: 'open', window })
  // A window that is closed leaves no complaint behind.
  const close = () => {
    dispatch({ type: 'close' })
    clearError()
  }
  const show = (key: PanelKey) => dispatch({ type: 'panel', key, at: stepAtHand(view) })
  useKeptTicks(state.ticks, dispatch)
  const [ready, setReady] = useState(false)
  useEffect(() => setReady(true), [])

  const adjusting = run ? run.purpose === 'adjust' : next.kind === 'adjust' && view.lastAdjustment !== null
  return (
    <div
      className="flex min-h-dvh flex-col bench:h-dvh"
      data-ready={(ready && (!view.asLeft || next.kind === 'compose')) || undefined}
    >
      <a
        href="#next"
        className="sr-only focus:not-sr-only focus:absolute focus:z-20 focus:bg-raised focus:p-3"
      >
        Skip to what is next
      </a>
      <p className="sr-only" aria-live="polite">
        {run?.ask ? sayAsked(run.ask) : ''}
      </p>
      <SessionHeader
        header={view.header}
        unitId={view.unitId}
        lost={lost}
        target={
          view.hdr
            ? `${view.targets.tone}, ${view.targets.white}`
            : `${view.targets.luminance} cd/m², ${view.targets.tone}${view.targets.white === 'D65' ? '' : `, ${view.targets.white}`}`
        }
        targetName={view.hdr ? 'Target' : 'Target white'}
        onTarget={run ? undefined : () => open({ kind: 'target' })}
        onPlaceUnit={() => void send({ type: 'place-unit' })}
      />
      <div
        className={`grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] ${
          state.logOpen
            ? 'bench:grid-cols-[12.5rem_minmax(0,1fr)_16.5rem]'
            : 'bench:grid-cols-[12.5rem_minmax(0,1fr)_9rem]'
        }`}
      >
        <Route
          session={view.id}
          steps={view.steps}
          onShow={view.readings > 0 ? (step) => show(PANEL_OF[step]) : undefined}
        />
        <main className="flex min-w-0 flex-col gap-4 p-4 bench:min-h-0 bench:overflow-y-auto bench:px-8 bench:py-6">
          <Next view={view} state={state} dispatch={dispatch} send={send} error={error} busy={busy} />
          {next.kind === 'visual-check' && !run && (
            <Conditions text={state.conditions} onText={(text) => dispatch({ type: 'conditions', text })} />
          )}
          <Standing view={view} failed={failed} />
          {view.unattended && <Unattended standstill={view.standstill} />}
          {error && !state.open && (
            <p role="alert" className="border border-lamp px-3 py-2 text-lamp">
              {error}
            </p>
          )}
          <Keys rows={rows} busy={busy} perform={perform} />
          {adjusting && (
            // Its place is kept while the next adjustment is made, so that nothing below it jumps.
            <div className="min-h-12 shrink-0">
              {view.lastAdjustment && !run && <LastAdjustment adjustment={view.lastAdjustment} />}
            </div>
          )}
          <section aria-label="Evidence" className="min-w-0 shrink-0">
            <Evidence
              view={view}
              chosen={chosenPanel(view, state)}
              onChoose={show}
              onUseAgain={(control) => void send({ type: 'use-again', control })}
            />
          </section>
        </main>
        <ReadingLog
          entries={view.log}
          count={view.readings}
          hdr={view.hdr}
          open={state.logOpen}
          onToggle={() => dispatch({ type: 'toggle-log' })}
          onTable={() => open({ kind: 'readings' })}
          onOpen={(id) => open({ kind: 'reading', id })}
        />
      </div>
      {state.open && (
        <BenchWindow open={state.open} view={view} rows={rows} error={error} send={send} onClose={close} />
      )}
      <Blackout dark={run?.status === 'running' && run.dark} patch={run?.current ?? ''} />
    </div>
  )
}

/** The one thing to do now: what a person is asked for, the run, or the next adjustment. */
const Next = ({
  view,
  state,
  dispatch,
  send,
  error,
  busy,
}: {
  view: SessionView
  state: BenchState
  dispatch: (event: BenchEvent) => void
  send: Send
  error: string
  busy: boolean
}) => {
  const { run, next } = view
  return (
    <section
      id="next"
      tabIndex={-1}
      aria-label={run ? 'Run' : 'Next adjustment'}
      aria-busy={busy}
      className={`grid shrink-0 content-start gap-3 ${run || next.kind === 'adjust' ? 'bench:min-h-68' : ''}`}
      data-step={stepAtHand(view)}
      data-run={run?.status ?? 'none'}
      data-next={next.kind}
      data-ask={run?.ask?.kind}
      data-codes={run?.ask && 'codes' in run.ask ? JSON.stringify(run.ask.codes) : undefined}
      data-mark={`${view.revision} ${run?.status ?? next.kind} ${run?.ask ? `${run.ask.run}-${run.ask.task}` : ''}`}
      data-lies={run?.ask && 'lies' in run.ask ? run.ask.lies : undefined}
    >
      {run?.ask ? (
        <Asking
          ask={run.ask}
          run={run}
          error={error}
          send={send}
          ticks={state.ticks}
          onTicks={(ticks) => dispatch({ type: 'ticks', ticks })}
        />
      ) : run ? (
        <Running run={run} />
      ) : (
        <NextAdjustment view={view} state={state} dispatch={dispatch} send={send} />
      )}
    </section>
  )
}

const TICKS_KEY = 'wexmar-ticks'

/** Keeps what was ticked in the browser, so that a page that is loaded again goes on where it was. */
const useKeptTicks = (ticks: Ticks, dispatch: (event: BenchEvent) => void) => {
  useEffect(() => {
    const kept = localStorage.getItem(TICKS_KEY)
    if (kept) dispatch({ type: 'ticks', ticks: { ...NO_TICKS, ...(JSON.parse(kept) as Partial<Ticks>) } })
  }, [dispatch])
  useEffect(() => {
    if (ticks.of) localStorage.setItem(TICKS_KEY, JSON.stringify(ticks))
  }, [ticks])
}

/** What a person is asked to do, in a sentence for those who do not see it. */
const sayAsked = (ask: NonNullable<NonNullable<SessionView['run']>['ask']>): string => {
  if (ask.kind === 'reset') return 'Reset the picture mode in the display’s menu.'
  if (ask.kind !== 'set') return `${ask.kind === 'show' ? 'Show' : 'Read'} ${ask.patch}.`
  const [only] = ask.changes
  return ask.changes.length === 1 && only
    ? `Set ${only.label} from ${only.from} to ${only.to}.`
    : `Set ${ask.changes.length} values.`
}

/** The keys that are shown, as buttons. */
const Keys = ({
  rows,
  busy,
  perform,
}: {
  rows: readonly KeyRow[]
  busy: boolean
  perform: (row: KeyRow) => void
}) => (
  <div className="rule-t rule-b sticky bottom-0 z-10 flex shrink-0 flex-wrap gap-x-6 bg-ground py-2 bench:-bottom-6 max-bench:-mx-4 max-bench:px-4 max-bench:[&>*:nth-child(n+4):not(:last-child)]:hidden">
    {rows
      .filter((r) => !r.quiet)
      .map((r) => (
        <button
          key={r.key}
          type="button"
          className="act text-sm"
          onClick={() => perform(r)}
          disabled={busy && r.deed.kind === 'command'}
        >
          <span className={`key ${r.key === ' ' ? 'border-lamp! text-lamp!' : ''}`}>{r.cap}</span>
          {r.label}
        </button>
      ))}
  </div>
)

const Conditions = ({ text, onText }: { text: string; onText: (text: string) => void }) => (
  <label className="flex flex-wrap items-baseline gap-3 text-sm">
    <span className="text-soft">Viewing conditions</span>
    <input
      className="field min-h-9! w-72!"
      value={text}
      maxLength={300}
      onChange={(e) => onText(e.target.value)}
    />
  </label>
)

/** That the page shows a session as it was left, or that it cannot be worked out, and what can be done about it. */
const Standing = ({ view, failed }: { view: SessionView; failed: string }) => {
  const { asLeft, trouble } = view
  const problem = failed || trouble?.message
  return (
    <>
      {asLeft && !problem && (
        <p role="status" className="text-soft">
          {view.next.kind === 'compose' ? 'Finished. ' : 'Working out the next adjustment. '}
          Shown as it was left on <LocalTime at={asLeft} />.
        </p>
      )}
      {problem && (
        <div role="alert" className="grid gap-1 border border-lamp px-3 py-2">
          <p className="text-lamp">
            The next adjustment could not be worked out
            {trouble && trouble.times > 1 ? `; it was tried ${trouble.times} times` : ''}: {problem}
          </p>
          <p className="text-soft">
            All {view.readings} readings are kept, and it is tried again automatically. You can take the
            readings out as a file, or begin the case again on this unit: its survey and its readings count
            there too.
          </p>
          <p className="flex gap-4">
            <Link className="link" href={`/sessions/${view.id}/files`}>
              Files of this session
            </Link>
            <Link className="link" href={`/units/${view.unitId}`}>
              The unit’s page
            </Link>
          </p>
        </div>
      )}
    </>
  )
}

const Unattended = ({ standstill }: { standstill: string }) => (
  <p className="flex items-baseline gap-3 text-soft">
    <span aria-hidden="true" className="size-2 shrink-0 rounded-full bg-ink" />
    {standstill || 'Running unattended.'}
  </p>
)
