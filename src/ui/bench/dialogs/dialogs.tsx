'use client'

import { useEffect, useState } from 'react'
import type { ReadingView } from '#server/view'
import { luminance } from '#ui/static'
import type { KeyRow } from '../key-table'
import { Dialog } from './dialog'

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
