import { z } from 'zod'
import type { Matrix3 } from '#core/colorimetry'
import { Policy } from '#core/judge'
import type { FourColours } from '#core/measure'
import { ResponsePrior } from '#core/model'
import { BenchDescription } from '#core/protocol'
import {
  here,
  id,
  json,
  key,
  maybe,
  names,
  now,
  type RowOf,
  table,
  text,
  time,
  whole,
  word,
  yesNo,
} from './table'

export const benches = table('benches', {
  id,
  url: text(),
  name: text(),
  description: maybe(json(BenchDescription)),
  seenAt: maybe(time),
  /** Who alone drives it; null: whichever runner there is. */
  drivenBy: maybe(text()),
})
export type BenchRow = RowOf<typeof benches>

const triple = z.tuple([z.number(), z.number(), z.number()])
const Colour = z.object({ meter: triple, reference: triple })
export const corrections = table('meter_corrections', {
  id,
  name: text(80),
  meter: text(300),
  reference: text(120),
  panelKind: text(40),
  unitId: here(maybe(names('units'))),
  colours: json<FourColours>(z.object({ red: Colour, green: Colour, blue: Colour, white: Colour })),
  matrix: json<Matrix3>(z.tuple([triple, triple, triple])),
  createdAt: now,
})
export type CorrectionRow = RowOf<typeof corrections>

/** The patch page says that the patch of a task stands on it. */
export const patchShows = table('patch_shows', {
  sessionId: key(names('sessions')),
  runId: key(names('runs')),
  task: key(whole(z.number().int().nonnegative().max(1_000_000))),
  shownAt: now,
  /** The page's own account of itself: size in pixels, pixel ratio. */
  page: text(300),
})
export type PatchShowRow = RowOf<typeof patchShows>

export const settings = table('settings', { name: key(text()), value: text() })
export type SettingRow = RowOf<typeof settings>

/** Background work that fails, until it succeeds. */
export const troubles = table('troubles', {
  work: key(word(z.enum(['unattended', 'summary', 'schedule']))),
  item: key(whole()),
  times: whole(),
  message: text(),
  since: time,
  /** Not before this it is tried again. */
  againAt: time,
})
export type TroubleRow = RowOf<typeof troubles>

/** A policy of a reviewer's own; those that come with Wexmar are in the core. */
export const policies = table('policies', {
  id,
  name: text(),
  document: json(Policy),
  createdAt: now,
  updatedAt: now,
})
export type PolicyRow = RowOf<typeof policies>

/** A response prior of a session, as it was at a revision of it. */
export const priors = table('response_priors', {
  id,
  sessionId: names('sessions'),
  revision: whole(),
  controlKey: text(60),
  document: json(ResponsePrior),
  forgotten: yesNo,
})
export type ResponsePriorRow = RowOf<typeof priors>
