import { factoryState, type State } from '#core/display'
import { REFERENCE_POLICY } from '#core/judge'
import { grey, type Patch } from '#core/measure'
import { MAREN } from '#core/simulation'
import type { ReadingRow, RunRow, SessionRow } from '#db'
import type { SessionRecord } from '#server/session'

export const AT = new Date('2026-11-27T20:00:00.000Z')

/** A row of a reading, a good one of middle grey where nothing else is said. */
export const readingRow = (more: Partial<ReadingRow> & { patch?: Patch } = {}): ReadingRow => {
  const patch = more.patch ?? grey(50)
  return {
    id: 1,
    runId: 1,
    task: 0,
    attempt: 0,
    stateId: 1,
    patchKey: patch.key,
    patch,
    x: 19,
    y: 20,
    z: 21.8,
    fault: null,
    raw: null,
    duration: 1,
    benchSeconds: 10,
    signal: {},
    seen: null,
    kind: 'read',
    origin: 'bench',
    samples: 1,
    sigma: null,
    meter: 'Ferrand Lux One FL-0417',
    meterSlot: null,
    correctionId: null,
    uncorrected: null,
    onFor: null,
    drift: null,
    flags: [],
    takenAt: AT,
    ...more,
  } as ReadingRow
}

export const runRow = (more: Partial<RunRow> = {}): RunRow =>
  ({
    id: 1,
    sessionId: 1,
    benchId: 1,
    purpose: 'out-of-box',
    title: 'Out of the box, 2 patches',
    status: 'done',
    reason: '',
    ask: null,
    notes: [],
    meter: null,
    readingCount: 0,
    ...more,
  }) as RunRow

/** A session as it was loaded: a display of the shelf on its bench, nothing read, where nothing else is said. */
export const recordOf = (
  more: Partial<Omit<SessionRecord, 'session'>> & { session?: Partial<SessionRow> } = {},
): SessionRecord => {
  const { sheet } = MAREN
  const state: State = factoryState(sheet)
  const { session, ...rest } = more
  return {
    unit: { id: 1, label: 'unit 1', serial: 'X1' },
    variant: { sizeInch: 65 },
    model: { id: 1, maker: sheet.maker, name: sheet.model },
    firmware: { version: '1.0' },
    sheet: { id: 1, document: sheet },
    state: { id: 1, values: state },
    runs: [],
    tasks: [],
    readings: [],
    adjustments: [],
    verdicts: [],
    unreadable: [],
    latencies: [],
    states: new Map([[1, { id: 1, values: state }]]),
    ...rest,
    session: {
      id: 1,
      unitId: 1,
      viewingCase: 'sdr-dark',
      baseMode: null,
      policy: REFERENCE_POLICY,
      devices: { display: 'bench', pattern: 'bench', meter: 'bench' },
      signalFormat: null,
      meterName: '',
      ...session,
    },
  } as unknown as SessionRecord
}
