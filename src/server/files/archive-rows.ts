import { z } from 'zod'
import { ControlSheet, ControlValue, KnownBy, State } from '#core/display'
import { LARGEST_PHOTO, RowKept, TraceDocument } from '#core/entry'
import { CaseDocument } from '#core/guide/document'
import { Policy, ViewingCase } from '#core/judge'
import {
  Drift,
  Exposure,
  MOST_SAMPLES,
  Patch,
  Probe,
  ProbePosition,
  Purpose,
  ReadingFault,
  SeenCircumstances,
} from '#core/measure'
import { ResponsePrior } from '#core/model'
import { MeterDescription } from '#core/protocol'
import { SeenSignal, SignalFormat } from '#core/signal'
import { STEP_KEYS } from '#core/steps'
import { isTone } from '#core/target'
import { RUN_STATUS } from '#db'

/** A row of another table: its place in the archive, counted from 0. */
const place = z.number().int().nonnegative().max(10_000_000)
const count = z.number().int().nonnegative().max(4_000_000_000)
const number = z.number()
const amount = z.number().nonnegative()
const time = z.iso.datetime({ offset: true })
const text = (most: number) => z.string().max(most)
/** Characters of the largest photograph as base64. */
const LARGEST_BASE64 = 4 * Math.ceil(LARGEST_PHOTO / 3)
const key = text(60)
const triple = z.tuple([number, number, number])
const Ordinal = count.max(1_000_000)
const RouteStep = z.enum(STEP_KEYS)
const Colour = z.object({ meter: triple, reference: triple })
const Devices = z.object({
  display: z.enum(['bench', 'hand']),
  pattern: z.enum(['bench', 'page', 'hand']),
  meter: z.enum(['bench', 'hand']),
})
const Change = z.object({ control: key, from: ControlValue, to: ControlValue })
const Quantity = z.enum(['white-error', 'luminance', 'colour-error', 'tone'])
const Expected = z.object({ quantity: Quantity, before: number, after: number, sigma: amount })
/** What was asked of a source: it is shown and kept, never acted on. */
const Asked = z.union([z.record(z.string().max(60), z.unknown()), z.null()])

/**
 * The row of each table as an archive holds it. Nothing else is imported: what is not named here is left out, what is named must be
 * what it says. Ids, benches' addresses and what belongs to the moment are not part of it.
 */
export const ROWS = {
  sheets: z.object({ version: z.number().int().positive().max(1_000_000), document: ControlSheet }),
  firmwares: z.object({ version: text(120) }),
  unitFirmwares: z.object({ firmwareId: place, seenAt: time }),
  states: z.object({ sheetId: place, digest: z.string().regex(/^[0-9a-f]{64}$/), values: State }),
  corrections: z.object({
    name: text(80),
    meter: text(300),
    reference: text(120),
    panelKind: text(40),
    colours: z.object({ red: Colour, green: Colour, blue: Colour, white: Colour }),
    matrix: z.tuple([triple, triple, triple]),
    createdAt: time,
  }),
  sessions: z.object({
    firmwareId: place,
    sheetId: place,
    stateId: place,
    correctionId: place.nullable(),
    viewingCase: ViewingCase,
    baseMode: key.nullable(),
    targetLuminance: z.number().positive(),
    targetX: z.number().min(0).max(1),
    targetY: z.number().min(0).max(1),
    tone: text(20).refine(isTone, 'is no tone that a case can aim at'),
    prepared: z.boolean(),
    skippedSteps: z.partialRecord(RouteStep, text(300)),
    devices: Devices,
    signalFormat: SignalFormat.nullable(),
    meterSlot: text(40).nullable(),
    meterName: text(120),
    scatter: amount.max(1).nullable().default(null),
    seenSignal: SeenSignal.nullable().default(null),
    policy: Policy,
    refused: z.record(key, text(1000)).default({}),
    known: z.record(key, KnownBy).nullable().default(null),
    accepted: z.array(text(60)).max(200).default([]),
    rewritten: count.default(0),
    priorsAt: count.nullable().default(null),
    revision: count,
    createdAt: time,
    updatedAt: time,
  }),
  notes: z.object({
    sessionId: place.nullable(),
    step: RouteStep.nullable(),
    text: text(2000),
    createdAt: time,
  }),
  photos: z.object({
    noteId: place,
    width: z.number().int().positive().max(65_535),
    height: z.number().int().positive().max(65_535),
    jpeg: z.base64().max(LARGEST_BASE64),
  }),
  runs: z.object({
    sessionId: place,
    purpose: Purpose,
    title: text(120),
    readingCount: count,
    notes: z.array(text(1000)).max(1_000),
    status: z.enum(RUN_STATUS),
    reason: text(500),
    meter: MeterDescription.nullable(),
    createdAt: time,
    finishedAt: time.nullable(),
  }),
  tasks: z.object({
    runId: place,
    ordinal: Ordinal,
    kind: z.enum(['reset', 'set', 'rest', 'settle', 'read', 'control', 'latency']),
    control: key.nullable(),
    value: ControlValue.nullable(),
    patch: Patch.nullable(),
    probe: Probe.nullable().optional(),
    outcome: z.enum(['done', 'skipped']).nullable(),
    finishedAt: time.nullable(),
  }),
  readings: z.object({
    runId: place,
    stateId: place,
    correctionId: place.nullable(),
    task: Ordinal,
    attempt: Ordinal,
    patchKey: text(40),
    patch: Patch,
    x: number.nullable(),
    y: number.nullable(),
    z: number.nullable(),
    fault: ReadingFault.nullable(),
    raw: text(500).nullable(),
    duration: amount,
    benchSeconds: number,
    signal: Asked,
    seen: SeenCircumstances.nullable(),
    kind: z.enum(['read', 'control', 'settle']),
    origin: z.enum(['bench', 'typed', 'imported']),
    samples: z.number().int().positive().max(100_000),
    sigma: triple.nullable(),
    meter: text(300),
    meterSlot: text(40).nullable(),
    uncorrected: triple.nullable(),
    exposure: Exposure.nullable().default(null),
    onFor: number.nullable(),
    drift: Drift.nullable(),
    flags: z.array(text(40)).max(20),
    takenAt: time,
  }),
  patchShows: z.object({ sessionId: place, runId: place, task: Ordinal, shownAt: time, page: text(300) }),
  adjustments: z.object({
    sessionId: place,
    runId: place,
    kind: z.enum(['proposed', 'by-hand', 'put-back']),
    step: RouteStep,
    changes: z.array(Change).max(500),
    purpose: text(300),
    expected: Expected.nullable(),
    predictions: z
      .array(z.object({ patch: text(60), quantity: Quantity, before: number, after: number, sigma: amount }))
      .max(1_000),
    createdAt: time,
  }),
  latencies: z.object({
    runId: place,
    stateId: place,
    task: Ordinal,
    mode: key,
    rate: z.number().positive(),
    milliseconds: amount,
    times: z.array(number).max(10_000),
    setting: ControlValue.nullable(),
    position: ProbePosition.nullable().optional(),
    takenAt: time,
    removedAt: time.nullable().optional(),
  }),
  entries: z
    .object({
      sessionId: place,
      kind: z.enum(['row', 'trace']),
      document: z.union([TraceDocument, RowKept]),
      samples: z
        .object({ times: z.array(number).max(MOST_SAMPLES), light: z.array(number).max(MOST_SAMPLES) })
        .nullable(),
      createdAt: time,
      removedAt: time.nullable(),
    })
    .refine(({ kind, document }) => 'edges' in document === (kind === 'trace'), 'is not what its kind says'),
  visualVerdicts: z.object({
    sessionId: place,
    stateId: place,
    question: text(40),
    pattern: text(40),
    controlKey: key.nullable(),
    value: ControlValue.nullable(),
    answer: text(200),
    conditions: text(300),
    createdAt: time,
  }),
  priors: z.object({
    sessionId: place,
    revision: count,
    controlKey: key,
    document: ResponsePrior,
    forgotten: z.boolean(),
  }),
  derived: z.object({
    sessionId: place,
    stateId: place,
    controlKey: key,
    value: ControlValue,
    step: RouteStep,
    rule: text(500),
  }),
  derivedReadings: z.object({ derivedId: place, readingId: place }),
  sectionRevisions: z.object({
    sessionId: place,
    number: z.number().int().positive().max(1_000_000),
    document: CaseDocument,
    createdAt: time,
  }),
  sectionValues: z.object({
    revisionId: place,
    position: Ordinal,
    controlKey: key,
    value: ControlValue,
    transferClass: z.enum(['copy', 'start-here', 'this-unit-only']),
    derivedId: place.nullable(),
  }),
} as const
export type ArchivedTable = keyof typeof ROWS
