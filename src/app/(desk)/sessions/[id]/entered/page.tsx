import { notFound } from 'next/navigation'
import type { ReactNode } from 'react'
import { idOf } from '#app/params'
import { UNMEASURED } from '#core/entry'
import { thinned } from '#core/measure'
import { context } from '#server/base'
import { type EnteredView, enteredView, traceSamples } from '#server/evidence'
import { sessionHead } from '#server/session'
import { LineButton, Trail } from '#ui/desk'
import { LatencyForm, RowForm, TraceChart, TraceUpload } from '#ui/entered'
import {
  addLatencyAction,
  addRowAction,
  removeEntryAction,
  removeLatencyAction,
} from '../../../entered-actions'

export const dynamic = 'force-dynamic'

/** Samples of a trace that a chart of this size shows. */
const MOST_POINTS = 600

const Part = ({ title, text, children }: { title: string; text: string; children: ReactNode }) => (
  <section>
    <h2 className="figure border-ink mb-3 border-b pb-2 text-2xl">{title}</h2>
    <p className="mb-4 max-w-2xl text-soft">{text}</p>
    {children}
  </section>
)

const TypedTimes = ({ session, latencies }: { session: number; latencies: EnteredView['latencies'] }) =>
  latencies.length > 0 && (
    <table className="quiet-table mb-6 w-full">
      <thead>
        <tr>
          <th scope="col">Settings</th>
          <th scope="col">Where</th>
          <th scope="col" className="n">
            Hz
          </th>
          <th scope="col" className="n">
            Mean, ms
          </th>
          <th scope="col" className="n">
            Times
          </th>
          <td />
        </tr>
      </thead>
      <tbody>
        {latencies.map((l) => (
          <tr key={l.id}>
            <th scope="row" className="font-normal">
              {l.settings}
            </th>
            <td>{l.position}</td>
            <td className="n">{l.rate}</td>
            <td className="n">{l.mean.toFixed(1)}</td>
            <td className="n">{l.count}</td>
            <td className="n">
              <LineButton
                action={removeLatencyAction.bind(null, session, l.id)}
                label="Remove"
                of={`${l.settings} at ${l.rate} Hz`}
                asks="Really remove it?"
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )

const Rows = ({ session, rows }: { session: number; rows: EnteredView['rows'] }) =>
  rows.length > 0 && (
    <ul className="mb-6">
      {rows.map((r) => (
        <li key={r.id} className="rule-b flex flex-wrap items-baseline gap-x-4 gap-y-1 py-2">
          <span>
            {[...r.path, r.label].join(' › ')}: <strong>{r.value}</strong>{' '}
            <span className="text-sm text-faint">{UNMEASURED[r.kind]}</span>
            <span className="block max-w-xl text-sm text-soft">{r.reason}</span>
          </span>
          <span className="ml-auto">
            <LineButton
              action={removeEntryAction.bind(null, session, r.id)}
              label="Remove"
              of={r.label}
              asks="Really remove it?"
            />
          </span>
        </li>
      ))}
    </ul>
  )

/** What a person enters of a case beside its readings: delays, traces of a light sensor, rows that no meter reads. */
export default async function EnteredPage({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  const [head, view] = id
    ? await Promise.all([sessionHead(context(), id), enteredView(context(), id)])
    : [undefined, undefined]
  if (!head || !view) notFound()
  const samples = view.traces.length ? await traceSamples(context(), head.id) : undefined
  const plays = view.viewingCase.endsWith('-game')
  const onDesk = plays || view.viewingCase === 'desktop'
  return (
    <>
      <title>{`By hand · ${head.display}`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/units/${head.unitId}`, text: `${head.display}, ${head.unit}` },
          { href: `/sessions/${head.id}`, text: head.caseLabel },
        ]}
      />
      <h1 className="figure mb-8 text-5xl">Entered by hand</h1>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-16 gap-y-12 lg:grid-cols-2">
        <Part
          title="Sound and system rows"
          text="Settings that no meter reads, as rows of this case: they appear in its guide, marked as not measured, with your reason."
        >
          <Rows session={head.id} rows={view.rows} />
          <RowForm action={addRowAction.bind(null, head.id)} />
        </Part>
        <div className="grid content-start gap-12">
          {plays && (
            <Part
              title="Latency"
              text="Times measured with another instrument. They appear beside the probe’s own, and decide which option stays on where there is no probe."
            >
              <TypedTimes session={head.id} latencies={view.latencies} />
              <LatencyForm controls={view.controls} action={addLatencyAction.bind(null, head.id)} />
            </Part>
          )}
          {onDesk && (
            <Part
              title="Response times"
              text="Traces of a light sensor while the screen goes from one grey to another, once or several times: rise, fall and overshoot are found in them."
            >
              <TraceUpload session={head.id} />
              <p className="mt-2 text-sm text-faint">
                The screen flickers while it goes to and fro: not for photosensitive people.
              </p>
            </Part>
          )}
        </div>
      </div>
      {view.traces.length > 0 && (
        <section className="mt-12">
          <h2 className="figure border-ink mb-4 border-b pb-2 text-2xl">Traces</h2>
          <div className="grid grid-cols-[minmax(0,1fr)] gap-8 md:grid-cols-2 xl:grid-cols-3">
            {view.traces.map((t) => {
              const { times, light } = thinned(samples?.get(t.id) ?? { times: [], light: [] }, MOST_POINTS)
              return (
                <div key={t.id}>
                  <TraceChart
                    title={`${t.from} → ${t.to} %`}
                    edges={t.edges}
                    points={times.map((x, i) => ({ x, y: light[i]! }))}
                  />
                  <p className="flex gap-4 text-sm text-faint">
                    {t.name}
                    <LineButton
                      action={removeEntryAction.bind(null, head.id, t.id)}
                      label="Remove"
                      of={`${t.from} to ${t.to} %`}
                      asks="Really remove it?"
                    />
                  </p>
                </div>
              )
            })}
          </div>
        </section>
      )}
    </>
  )
}
