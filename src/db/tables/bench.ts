import type { CreationOptional } from 'sequelize'
import type { Matrix3 } from '#core/colorimetry'
import type { Policy } from '#core/judge'
import type { FourColours } from '#core/measure'
import type { ResponsePrior } from '#core/model'
import type { BenchDescription } from '#core/protocol'
import { id, json, maybe, now, type Row, table, time, whole, word, yesNo } from './table'

export interface BenchRow extends Row<BenchRow> {
  id: CreationOptional<number>
  url: string
  name: string
  description: BenchDescription | null
  seenAt: Date | null
  /** Who alone drives it; null: whichever runner there is. */
  drivenBy: CreationOptional<string | null>
}
export const benches = table<BenchRow>('benches', {
  id,
  url: word,
  name: word,
  description: maybe(json),
  seenAt: maybe(time),
  drivenBy: maybe(word),
})

export interface CorrectionRow extends Row<CorrectionRow> {
  id: CreationOptional<number>
  name: string
  meter: string
  reference: string
  panelKind: string
  unitId: number | null
  colours: FourColours
  matrix: Matrix3
  createdAt: CreationOptional<Date>
}
export const corrections = table<CorrectionRow>('meter_corrections', {
  id,
  name: word,
  meter: word,
  reference: word,
  panelKind: word,
  unitId: maybe(whole),
  colours: json,
  matrix: json,
  createdAt: now,
})

/** The patch page says that the patch of a task stands on it. */
export interface PatchShowRow extends Row<PatchShowRow> {
  sessionId: number
  runId: number
  task: number
  shownAt: CreationOptional<Date>
  /** The page's own account of itself: size in pixels, pixel ratio. */
  page: string
}
export const patchShows = table<PatchShowRow>('patch_shows', {
  sessionId: { ...whole, primaryKey: true },
  runId: { ...whole, primaryKey: true },
  task: { ...whole, primaryKey: true },
  shownAt: now,
  page: word,
})

export interface SettingRow extends Row<SettingRow> {
  name: string
  value: string
}
export const settings = table<SettingRow>('settings', { name: { ...word, primaryKey: true }, value: word })

/** Background work that fails, until it succeeds. */
export interface TroubleRow extends Row<TroubleRow> {
  work: 'unattended' | 'summary' | 'schedule'
  item: number
  times: number
  message: string
  since: Date
  /** Not before this it is tried again. */
  againAt: Date
}
export const troubles = table<TroubleRow>('troubles', {
  work: { ...word, primaryKey: true },
  item: { ...whole, primaryKey: true },
  times: whole,
  message: word,
  since: time,
  againAt: time,
})

/** A policy of a reviewer's own; those that come with Wexmar are in the core. */
export interface PolicyRow extends Row<PolicyRow> {
  id: CreationOptional<number>
  name: string
  document: Policy
  createdAt: CreationOptional<Date>
  updatedAt: CreationOptional<Date>
}
export const policies = table<PolicyRow>('policies', {
  id,
  name: word,
  document: json,
  createdAt: now,
  updatedAt: now,
})

/** A response prior of a session, as it was at a revision of it. */
export interface ResponsePriorRow extends Row<ResponsePriorRow> {
  id: CreationOptional<number>
  sessionId: number
  revision: number
  controlKey: string
  document: ResponsePrior
  forgotten: CreationOptional<boolean>
}
export const priors = table<ResponsePriorRow>('response_priors', {
  id,
  sessionId: whole,
  revision: whole,
  controlKey: word,
  document: json,
  forgotten: yesNo,
})
