'use client'

import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useState } from 'react'
import type { Command } from '#server/commands'
import type { SessionView } from '#server/views'
import { Blackout } from './blackout'
import { KeysDialog, ReadingDialog, SetDialog, TargetDialog } from './dialogs'
import { Evidence } from './evidence'
import { type KeyAction, useKeys } from './keys'
import { LastMove, NextMove, Running } from './move'
import { Plate } from './plate'
import { Route } from './route'
import { Tape } from './tape'
import { useSession } from './use-session'

type Open =
  | { kind: 'keys' }
  | { kind: 'set' }
  | { kind: 'target' }
  | { kind: 'reading'; id: number }
  | undefined

const GO_LABEL: Readonly<Record<SessionView['next']['kind'], string>> = {
  prepare: 'Ready: reset and set it',
  sweep: 'Start the sweep',
  move: 'Set it and read',
  compose: 'Compose the guide',
}

/** Keys that only stand in the list of all keys. */
const QUIET_KEYS: ReadonlySet<string> = new Set(['t', 'g', 'r'])

/** The bench: plate, route, the one next move with its evidence, tape. */
export const Bench = ({ first, guideHref }: { first: SessionView; guideHref: string }) => {
  const { view, lost, busy, error, send, clearError } = useSession(first)
  const router = useRouter()
  const [open, setOpen] = useState<Open>()
  const [tapeOpen, setTapeOpen] = useState(true)
  const { run, next } = view
  const at = view.stations.find((s) => s.status === 'now' || s.status === 'stale')

  const actions = useMemo((): KeyAction[] => {
    const command = (c: Command) => () => void send(c)
    const key = (cap: string, label: string, run: () => void, name = cap.toLowerCase()): KeyAction => ({
      key: name,
      cap,
      label,
      run,
    })
    const always = [
      key('T', tapeOpen ? 'Fold the tape' : 'Show the tape', () => setTapeOpen((o) => !o)),
      key('?', 'All keys', () => setOpen({ kind: 'keys' })),
    ]
    if (run)
      return [
        ...(run.status === 'paused' ? [key('Space', 'Go on', command({ type: 'resume' }), ' ')] : []),
        ...(run.status === 'stopped'
          ? [
              key('Space', 'Try again', command({ type: 'retry' }), ' '),
              key('L', 'Leave this patch out', command({ type: 'skip' })),
            ]
          : []),
        ...(run.status === 'running' || run.status === 'queued' || run.status === 'waiting'
          ? [key('P', 'Pause', command({ type: 'pause' }))]
          : []),
        key('X', 'Cancel this run', command({ type: 'cancel' })),
        ...always,
      ]
    const go =
      next.kind === 'compose'
        ? () => router.push(guideHref)
        : command({ type: 'go', revision: view.revision })
    const leavable = next.kind === 'move' ? next.station : undefined
    const left = view.stations.find((s) => s.status === 'left')
    return [
      key('Space', next.kind === 'compose' && view.guide ? 'Open the guide' : GO_LABEL[next.kind], go, ' '),
      ...(view.lastMove?.canPutBack ? [key('Z', 'Put it back', command({ type: 'put-back' }))] : []),
      ...(next.kind !== 'prepare' ? [key('E', 'Another value', () => setOpen({ kind: 'set' }))] : []),
      ...(leavable
        ? [
            key(
              'N',
              'Leave it so, go on',
              command({ type: 'leave', station: leavable, reason: 'good enough for the reviewer' }),
            ),
          ]
        : []),
      ...(left
        ? [key('B', `Take up ${left.title} again`, command({ type: 'return', station: left.key }))]
        : []),
      key('G', 'Target of white', () => setOpen({ kind: 'target' })),
      ...(view.factory && next.kind !== 'prepare'
        ? [key('R', 'Read the sweep again', command({ type: 'sweep-again' }))]
        : []),
      ...always,
    ]
  }, [run, next, view, tapeOpen, send, router, guideHref])

  useKeys(actions, open === undefined && !busy)

  // A window that is closed leaves no complaint behind.
  const close = () => {
    setOpen(undefined)
    clearError()
  }
  const [ready, setReady] = useState(false)
  useEffect(() => setReady(true), [])

  const moving = run ? run.purpose === 'move' : next.kind === 'move' && view.lastMove !== null
  const shown = actions.filter((a) => !QUIET_KEYS.has(a.key))
  return (
    <div className="flex min-h-dvh flex-col bench:h-dvh" data-ready={ready || undefined}>
      <Plate
        plate={view.plate}
        unitId={view.unitId}
        lost={lost}
        target={`${view.targets.luminance} cd/m², ${view.targets.tone}`}
        onTarget={run ? undefined : () => setOpen({ kind: 'target' })}
        onPlaceUnit={() => void send({ type: 'place-unit' })}
      />
      <div
        className={`grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] ${
          tapeOpen
            ? 'bench:grid-cols-[12.5rem_minmax(0,1fr)_16.5rem]'
            : 'bench:grid-cols-[12.5rem_minmax(0,1fr)_9rem]'
        }`}
      >
        <Route stations={view.stations} />
        <main className="flex min-w-0 flex-col gap-4 p-4 bench:min-h-0 bench:overflow-y-auto bench:px-8 bench:py-6">
          <section
            aria-label={run ? 'Run' : 'Next move'}
            className={`grid shrink-0 content-start gap-3 ${run || next.kind === 'move' ? 'bench:min-h-68' : ''}`}
            data-station={at?.key ?? 'guide'}
            data-run={run?.status ?? 'none'}
          >
            {run ? <Running run={run} /> : <NextMove view={view} />}
          </section>
          {error && !open && (
            <p role="alert" className="border border-lamp px-3 py-2 text-lamp">
              {error}
            </p>
          )}
          <div className="rule-t rule-b flex shrink-0 flex-wrap gap-x-6 py-2">
            {shown.map((a) => (
              <button key={a.key} type="button" className="act text-sm" onClick={a.run} disabled={busy}>
                <span className={`key ${a.key === ' ' ? 'border-lamp! text-lamp!' : ''}`}>{a.cap}</span>
                {a.label}
              </button>
            ))}
          </div>
          {moving && (
            // Its place is kept while the next move is made, so that nothing below it jumps.
            <div className="min-h-12 shrink-0">
              {view.lastMove && !run && <LastMove move={view.lastMove} />}
            </div>
          )}
          <section aria-label="Evidence" className="min-w-0 shrink-0">
            <Evidence view={view} />
          </section>
        </main>
        <Tape
          entries={view.tape}
          count={view.readings}
          open={tapeOpen}
          onToggle={() => setTapeOpen((o) => !o)}
          onOpen={(id) => setOpen({ kind: 'reading', id })}
        />
      </div>
      {open?.kind === 'keys' && <KeysDialog actions={actions} onClose={close} />}
      {open?.kind === 'set' && (
        <SetDialog
          view={view}
          suggested={next.kind === 'move' ? next.changes[0]?.control : undefined}
          error={error}
          send={send}
          onClose={close}
        />
      )}
      {open?.kind === 'target' && <TargetDialog view={view} error={error} send={send} onClose={close} />}
      {open?.kind === 'reading' && <ReadingDialog session={view.id} reading={open.id} onClose={close} />}
      <Blackout dark={run?.status === 'running' && run.dark} patch={run?.current ?? ''} />
    </div>
  )
}
