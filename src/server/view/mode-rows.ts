import { LRUCache } from 'lru-cache'
import { modeProposals, type RouteFacts } from '#core/steps'
import type { Database } from '#db'
import { keptFor } from '../base/per-database'
import type { SessionRecord } from '../session/record'
import type { ModeRow } from './findings-views'

const rowsKept = keptFor(() => new LRUCache<number, { mark: string; rows: ModeRow[] }>({ max: 60 }))

/** The modes are judged anew only where something was read of them, or aimed at otherwise, since they were last. */
export const modeRowsOf = (db: Database, { session }: SessionRecord, facts: RouteFacts): ModeRow[] => {
  const read = facts.readings.filter((r) => r.purpose === 'survey' || r.purpose === 'out-of-box')
  const mark = JSON.stringify([
    read.length,
    read.at(-1)?.id,
    session.rewritten,
    facts.targets,
    facts.baseMode,
    facts.latencies.length,
    facts.occupied,
    facts.refused,
  ])
  const kept = rowsKept(db)
  const known = kept.get(session.id)
  if (known?.mark === mark) return known.rows
  const rows = modeRows(facts)
  kept.set(session.id, { mark, rows })
  return rows
}

const modeRows = (facts: RouteFacts): ModeRow[] =>
  modeProposals(facts).map(({ mode, label, verdict, hdr, sentence, latency, reasons, against }, i) => {
    const { grey, colours } = verdict
    return {
      mode,
      label,
      sentence,
      reasons,
      against: against ?? '',
      rank: i + 1,
      white: grey.white.luminance,
      contrast: grey.contrast,
      whiteError: grey.whiteError.average,
      cct: grey.white.cct,
      gamma: grey.gamma,
      wantedGamma: grey.wantedGamma,
      colourError: colours.length ? colours.reduce((s, c) => s + c.deltaE, 0) / colours.length : undefined,
      saturation: verdict.saturation,
      crushed: verdict.crushed,
      clipped: verdict.clipped,
      latency,
      chosen: facts.baseMode === mode,
      ...(hdr ? { hdr: { peak: hdr.peak, stops: hdr.stops, white: hdr.white, colour: hdr.colour } } : {}),
    }
  })
