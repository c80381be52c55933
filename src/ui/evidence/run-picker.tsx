'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useOptimistic, useTransition } from 'react'
import type { EvidenceRun, EvidenceView } from '#server/evidence'
import { Mark, type MarkKind } from '#ui/charts'
import { day } from '#ui/static'

const MOST = 6

/** The runs that can be shown, those that are on top. */
export const RunPicker = ({ view, marks }: { view: EvidenceView; marks: readonly MarkKind[] }) => {
  const router = useRouter()
  const [busy, start] = useTransition()
  // A press is answered at once; the charts follow.
  const [chosen, choose] = useOptimistic([...new Set(view.shown.map((s) => s.run.id))])
  const go = (runs: number[]) =>
    start(() => {
      choose(runs)
      const query = new URLSearchParams()
      if (runs.length) query.set('runs', runs.join(','))
      if (view.unitId) query.set('unit', String(view.unitId))
      router.push(`/evidence?${query}`, { scroll: false })
    })
  const toggle = (run: EvidenceRun) =>
    go(chosen.includes(run.id) ? chosen.filter((id) => id !== run.id) : [...chosen, run.id])
  const marksOf = (run: EvidenceRun) => view.shown.flatMap((s, i) => (s.run.id === run.id ? [marks[i]!] : []))
  const groups = new Map<string, EvidenceRun[]>()
  for (const run of view.runs) {
    const name = `${run.display}, ${run.unit}`
    groups.set(name, [...(groups.get(name) ?? []), run])
  }
  return (
    <nav aria-label="Runs" aria-busy={busy} className="content-start">
      {view.unitId && (
        <p className="mb-3 text-sm">
          <Link className="link" href={`/evidence${chosen.length ? `?runs=${chosen.join(',')}` : ''}`}>
            Runs of all units
          </Link>
        </p>
      )}
      {view.runs.length === 0 && <p className="text-faint">No sweep was read yet.</p>}
      <div className="grid max-h-[80dvh] gap-5 overflow-y-auto lg:sticky lg:top-4">
        {[...groups].map(([name, runs]) => (
          <fieldset key={name} className="min-w-0">
            <legend className="mb-1 text-sm font-semibold">{name}</legend>
            {runs.map((run) => (
              <label key={run.id} className="rule-b grid grid-cols-[1.2rem_1fr_auto] gap-x-2 py-1.5">
                <input
                  type="checkbox"
                  className="mt-1.5"
                  checked={chosen.includes(run.id)}
                  disabled={!chosen.includes(run.id) && chosen.length >= MOST}
                  onChange={() => toggle(run)}
                />
                <span>
                  {run.title}
                  <span className="block text-xs text-faint">
                    {day(run.takenAt)}, {run.readings} readings, firmware {run.firmware}
                  </span>
                </span>
                <span className="flex gap-1 pt-1">
                  {marksOf(run).map((mark) => (
                    <Mark key={mark} kind={mark} />
                  ))}
                </span>
              </label>
            ))}
          </fieldset>
        ))}
      </div>
      {chosen.length > 1 && (
        <p className="mt-4">
          <button type="button" className="link text-sm" onClick={() => go([])}>
            Clear the selection
          </button>
        </p>
      )}
    </nav>
  )
}
