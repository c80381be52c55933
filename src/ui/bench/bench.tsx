'use client'

import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useState } from 'react'
import type { Command } from '#server/commands'
import type { SessionView } from '#server/views'
import { LastAdjustment, Running } from './adjustment'
import { Asking } from './ask'
import { Blackout } from './blackout'
import { CorrectDialog, KeysDialog, ModeDialog, ReadingDialog, SetDialog, TargetDialog } from './dialogs'
import { EquipmentDialog } from './equipment-dialog'
import { Evidence } from './evidence'
import { type KeyAction, useKeys } from './keys'
import { NextAdjustment } from './next-adjustment'
import { ReadingLog } from './reading-log'
import { Route } from './route'
import { SessionHeader } from './session-header'
import { SweepDialog } from './sweep-dialog'
import { useSession } from './use-session'

type Open =
  | { kind: 'keys' }
  | { kind: 'set' }
  | { kind: 'target' }
  | { kind: 'equipment' }
  | { kind: 'sweep' }
  | { kind: 'mode' }
  | { kind: 'correct' }
  | { kind: 'reading'; id: number }
  | undefined

const GO_LABEL: Readonly<Record<SessionView['next']['kind'], string>> = {
  prepare: 'Ready: set it',
  restore: 'Set it again',
  sweep: 'Start the sweep',
  survey: 'Start the survey',
  'choose-mode': 'Take this mode',
  adjust: 'Set it and read',
  'unexpected-reading': 'It is right: read again',
  'visual-check': 'Keep this',
  worse: 'Accept it',
  'feed-fault': 'Check again',
  compose: 'Compose the guide',
}

/** Keys that only stand in the list of all keys. */
const QUIET_KEYS: ReadonlySet<string> = new Set([
  't',
  'g',
  'r',
  'd',
  'v',
  'm',
  'arrowup',
  'arrowdown',
  'arrowleft',
  'arrowright',
])

/** The bench: session header, route, the one next adjustment with its evidence, reading log. */
export const Bench = ({ first, guideHref }: { first: SessionView; guideHref: string }) => {
  const { view, lost, busy, error, send, clearError } = useSession(first)
  const router = useRouter()
  const [open, setOpen] = useState<Open>()
  const [logOpen, setLogOpen] = useState(true)
  const { run, next } = view
  const at = view.steps.find((s) => s.status === 'now' || s.status === 'stale')

  const proposed = view.findings.survey.find((m) => !m.against) ?? view.findings.survey[0]
  const [marked, setMarked] = useState<string>()
  const mode = marked ?? view.findings.survey.find((m) => m.chosen)?.mode ?? proposed?.mode ?? ''
  const look = next.kind === 'visual-check' ? next.look : undefined
  const [looked, setLooked] = useState<{ question: string; value: string | number }>()
  const checkValue =
    look && looked?.question === look.question ? looked.value : (look?.begin ?? look?.control?.value ?? null)
  const [conditions, setConditions] = useState('dark room')

  const actions = useMemo((): KeyAction[] => {
    const command = (c: Command) => Object.assign(() => void send(c), { asks: true })
    const key = (
      cap: string,
      label: string,
      run: (() => void) & { asks?: boolean },
      name = cap.toLowerCase(),
    ): KeyAction => ({ key: name, cap, label, run, asks: run.asks })
    const always = [
      key('T', logOpen ? 'Hide the reading log' : 'Show the reading log', () => setLogOpen((o) => !o)),
      key('?', 'All keys', () => setOpen({ kind: 'keys' })),
    ]
    const pilot = view.unattended
      ? [key('U', 'Take over', command({ type: 'unattended', on: false }))]
      : view.canBeUnattended && next.kind !== 'compose'
        ? [key('U', 'Go on unattended', command({ type: 'unattended', on: true }))]
        : []
    if (run)
      return [
        ...(run.status === 'paused' ? [key('Space', 'Go on', command({ type: 'resume' }), ' ')] : []),
        ...(run.status === 'stopped' ? [key('Space', 'Try again', command({ type: 'retry' }), ' ')] : []),
        ...(run.leaveOut === 'patch' ? [key('L', 'Leave this patch out', command({ type: 'skip' }))] : []),
        ...(run.leaveOut === 'control'
          ? [key('L', 'Leave this control out', command({ type: 'leave-out' }))]
          : []),
        ...(run.ask && run.ask.kind !== 'read'
          ? [key('Space', 'Done', command({ type: 'confirm', run: run.ask.run, task: run.ask.task }), ' ')]
          : []),
        ...(run.settling ? [key('N', 'Do not wait longer', command({ type: 'enough' }))] : []),
        ...(['running', 'queued', 'waiting', 'asking'].includes(run.status)
          ? [key('P', 'Pause', command({ type: 'pause' }))]
          : []),
        key('X', 'Cancel this run', command({ type: 'cancel' })),
        ...pilot,
        ...always,
      ]
    const left = view.steps.findLast((s) => s.status === 'skipped')
    return [
      ...goKeys(),
      ...(view.lastAdjustment?.canPutBack && next.kind !== 'visual-check'
        ? [key('Z', 'Undo', command({ type: 'put-back' }))]
        : []),
      ...(next.kind !== 'prepare' && next.kind !== 'visual-check' && next.kind !== 'survey'
        ? [key('E', 'Another value', () => setOpen({ kind: 'set' }))]
        : []),
      ...leaveKeys(),
      ...(left ? [key('B', `Reopen ${left.title}`, command({ type: 'return', step: left.key }))] : []),
      ...pilot,
      ...(view.modes.length > 1 && next.kind !== 'choose-mode'
        ? [key('M', 'Another mode', () => setOpen({ kind: 'mode' }))]
        : []),
      key('G', 'Targets and policy', () => setOpen({ kind: 'target' })),
      key('V', 'Read a sweep', () => setOpen({ kind: 'sweep' })),
      key('D', 'Equipment', () => setOpen({ kind: 'equipment' })),
      ...(view.factory && next.kind !== 'prepare'
        ? [key('R', 'Read the sweep again', command({ type: 'sweep-again' }))]
        : []),
      ...always,
    ]

    function goKeys(): KeyAction[] {
      const space = (run: (() => void) & { asks?: boolean }, label = GO_LABEL[next.kind]) =>
        key('Space', label, run, ' ')
      switch (next.kind) {
        case 'compose':
          return [space(() => router.push(guideHref), view.guide ? 'Open the guide' : GO_LABEL.compose)]
        case 'feed-fault':
          return [space(command({ type: 'check-feed' }))]
        case 'choose-mode': {
          const rows = view.findings.survey
          const at = rows.findIndex((r) => r.mode === mode)
          const mark = (i: number) => () => setMarked(rows[(i + rows.length) % rows.length]?.mode)
          return [
            space(command({ type: 'choose-mode', mode })),
            key('↑', 'One up', mark(at - 1), 'arrowup'),
            key('↓', 'One down', mark(at + 1), 'arrowdown'),
            ...rows.slice(0, 9).map((r, i) => ({
              ...key(String(i + 1), `Mark “${r.label}”`, mark(i)),
              quiet: true,
            })),
          ]
        }
        case 'visual-check': {
          const { question, answers, control } = next.look
          if (!control)
            return answers.map((a, i) => ({
              ...key(
                String(i + 1),
                a.text,
                command({ type: 'visual-check', question, answer: a.key, value: null, conditions }),
              ),
              quiet: true,
            }))
          const step = (by: number) => () => {
            if (control.kind === 'number') {
              const to = Number(checkValue ?? control.value) + by * (control.step ?? 1)
              const held = Math.min(control.max ?? to, Math.max(control.min ?? to, to))
              setLooked({ question, value: Number(held.toFixed(9)) })
              return
            }
            const list = control.choices ?? []
            const at = list.findIndex((c) => c.value === String(checkValue))
            const to = list[Math.min(list.length - 1, Math.max(0, at + by))]
            if (to) setLooked({ question, value: to.value })
          }
          return [
            space(command({ type: 'visual-check', question, answer: '', value: checkValue, conditions })),
            key('←', 'Less', step(-1), 'arrowleft'),
            key('→', 'More', step(1), 'arrowright'),
          ]
        }
        case 'unexpected-reading':
          return [
            space(command({ type: 'go', revision: view.revision })),
            key('C', 'It shows something else', () => setOpen({ kind: 'correct' })),
          ]
        case 'worse':
          return [
            ...(next.putBack ? [key('Z', 'Restore defaults', command({ type: 'undo-worse' }))] : []),
            space(command({ type: 'accept', keys: next.worse.map((w) => w.key) })),
          ]
        case 'adjust':
          return [
            space(
              command({ type: 'go', revision: view.revision }),
              next.changes.length ? GO_LABEL.adjust : 'Read them',
            ),
          ]
        default:
          return [space(command({ type: 'go', revision: view.revision }))]
      }
    }

    function leaveKeys(): KeyAction[] {
      const checking = next.kind === 'feed-fault' || (next.kind === 'sweep' && next.purpose === 'feed-check')
      const step =
        next.kind === 'adjust'
          ? next.step
          : next.kind === 'visual-check'
            ? 'processing'
            : checking
              ? 'signal'
              : undefined
      return step
        ? [
            key(
              'N',
              next.kind === 'visual-check' ? 'Skip the visual checks' : 'Skip this step',
              command({ type: 'leave', step, reason: 'good enough for the reviewer' }),
            ),
          ]
        : []
    }
  }, [run, next, view, logOpen, send, router, guideHref, mode, checkValue, conditions])

  useKeys(actions, open === undefined, busy)

  // A window that is closed leaves no complaint behind.
  const close = () => {
    setOpen(undefined)
    clearError()
  }
  const [ready, setReady] = useState(false)
  useEffect(() => setReady(true), [])

  const moving = run ? run.purpose === 'adjust' : next.kind === 'adjust' && view.lastAdjustment !== null
  const shown = actions.filter((a) => !a.quiet && !QUIET_KEYS.has(a.key))
  return (
    <div className="flex min-h-dvh flex-col bench:h-dvh" data-ready={ready || undefined}>
      <SessionHeader
        header={view.header}
        unitId={view.unitId}
        lost={lost}
        target={`${view.targets.luminance} cd/m², ${view.targets.tone}${view.targets.white === 'D65' ? '' : `, ${view.targets.white}`}`}
        onTarget={run ? undefined : () => setOpen({ kind: 'target' })}
        onPlaceUnit={() => void send({ type: 'place-unit' })}
      />
      <div
        className={`grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)] ${
          logOpen
            ? 'bench:grid-cols-[12.5rem_minmax(0,1fr)_16.5rem]'
            : 'bench:grid-cols-[12.5rem_minmax(0,1fr)_9rem]'
        }`}
      >
        <Route steps={view.steps} />
        <main className="flex min-w-0 flex-col gap-4 p-4 bench:min-h-0 bench:overflow-y-auto bench:px-8 bench:py-6">
          <section
            aria-label={run ? 'Run' : 'Next adjustment'}
            aria-busy={busy}
            className={`grid shrink-0 content-start gap-3 ${run || next.kind === 'adjust' ? 'bench:min-h-68' : ''}`}
            data-step={at?.key ?? 'guide'}
            data-run={run?.status ?? 'none'}
          >
            {run?.ask ? (
              <Asking ask={run.ask} run={run} error={error} send={send} />
            ) : run ? (
              <Running run={run} />
            ) : (
              <NextAdjustment
                view={view}
                chosen={mode}
                onChoose={setMarked}
                checkValue={checkValue}
                onCheckValue={(value) => look && setLooked({ question: look.question, value })}
                onAnswer={(answer) =>
                  look &&
                  void send({
                    type: 'visual-check',
                    question: look.question,
                    answer,
                    value: null,
                    conditions,
                  })
                }
              />
            )}
          </section>
          {look && !run && (
            <label className="flex flex-wrap items-baseline gap-3 text-sm">
              <span className="text-soft">Viewing conditions</span>
              <input
                className="field min-h-9! w-72!"
                value={conditions}
                maxLength={300}
                onChange={(e) => setConditions(e.target.value)}
              />
            </label>
          )}
          {view.unattended && (
            <p className="flex items-baseline gap-3 text-soft">
              <span aria-hidden="true" className="size-2 shrink-0 rounded-full bg-ink" />
              {view.standstill || 'Goes on by itself.'}
            </p>
          )}
          {error && !open && (
            <p role="alert" className="border border-lamp px-3 py-2 text-lamp">
              {error}
            </p>
          )}
          <div className="rule-t rule-b flex shrink-0 flex-wrap gap-x-6 py-2">
            {shown.map((a) => (
              <button
                key={a.key}
                type="button"
                className="act text-sm"
                onClick={a.run}
                disabled={busy && a.asks}
              >
                <span className={`key ${a.key === ' ' ? 'border-lamp! text-lamp!' : ''}`}>{a.cap}</span>
                {a.label}
              </button>
            ))}
          </div>
          {moving && (
            // Its place is kept while the next adjustment is made, so that nothing below it jumps.
            <div className="min-h-12 shrink-0">
              {view.lastAdjustment && !run && <LastAdjustment adjustment={view.lastAdjustment} />}
            </div>
          )}
          <section aria-label="Evidence" className="min-w-0 shrink-0">
            <Evidence view={view} onUseAgain={(control) => void send({ type: 'use-again', control })} />
          </section>
        </main>
        <ReadingLog
          entries={view.log}
          count={view.readings}
          open={logOpen}
          onToggle={() => setLogOpen((o) => !o)}
          onOpen={(id) => setOpen({ kind: 'reading', id })}
        />
      </div>
      {open?.kind === 'keys' && <KeysDialog actions={actions} onClose={close} />}
      {open?.kind === 'set' && (
        <SetDialog
          view={view}
          suggested={next.kind === 'adjust' ? next.changes[0]?.control : undefined}
          error={error}
          send={send}
          onClose={close}
        />
      )}
      {open?.kind === 'target' && <TargetDialog view={view} error={error} send={send} onClose={close} />}
      {open?.kind === 'equipment' && (
        <EquipmentDialog view={view} error={error} send={send} onClose={close} />
      )}
      {open?.kind === 'sweep' && <SweepDialog view={view} error={error} send={send} onClose={close} />}
      {open?.kind === 'mode' && <ModeDialog view={view} error={error} send={send} onClose={close} />}
      {open?.kind === 'correct' && next.kind === 'unexpected-reading' && (
        <CorrectDialog view={view} changes={next.changes} error={error} send={send} onClose={close} />
      )}
      {open?.kind === 'reading' && <ReadingDialog session={view.id} reading={open.id} onClose={close} />}
      <Blackout dark={run?.status === 'running' && run.dark} patch={run?.current ?? ''} />
    </div>
  )
}
