import type { CreationOptional } from 'sequelize'
import type { BelievedMemory, ControlSheet } from '#core/display'
import type { SheetDraft } from '#core/draft'
import type { DisplayInputs, SourceDevice } from '#core/signal'
import { day, id, json, maybe, now, number, type Row, table, time, whole, word } from './table'

export interface ModelRow extends Row<ModelRow> {
  id: CreationOptional<number>
  maker: string
  name: string
  slug: string
  panelKind: string
  /** Sockets and what it takes over them; null where nobody entered it. */
  inputs: DisplayInputs | null
}
export const models = table<ModelRow>('models', {
  id,
  maker: word,
  name: word,
  slug: word,
  panelKind: word,
  inputs: maybe(json),
})

/** A device that sends pictures. */
export interface SourceRow extends Row<SourceRow> {
  id: CreationOptional<number>
  name: string
  document: SourceDevice
  createdAt: CreationOptional<Date>
  removedAt: Date | null
}
export const sources = table<SourceRow>('sources', {
  id,
  name: word,
  document: json,
  createdAt: now,
  removedAt: maybe(time),
})

export interface VariantRow extends Row<VariantRow> {
  id: CreationOptional<number>
  modelId: number
  sizeInch: number
  region: string
}
export const variants = table<VariantRow>('variants', { id, modelId: whole, sizeInch: number, region: word })

export interface UnitRow extends Row<UnitRow> {
  id: CreationOptional<number>
  variantId: number
  label: string
  serial: string
  origin: string
  hours: number | null
  returnsOn: string | null
  /** What its display stands at, as far as is known, and the session that set it last; null before the first. */
  stateId: CreationOptional<number | null>
  statedBy: CreationOptional<number | null>
  /** What it is believed to hold, by place; null where nobody has seen anything. */
  memory: CreationOptional<BelievedMemory | null>
  createdAt: CreationOptional<Date>
  /** When the display was switched on, where a person said so. */
  switchedOnAt: CreationOptional<Date | null>
}
export const units = table<UnitRow>('units', {
  id,
  variantId: whole,
  label: word,
  serial: word,
  origin: word,
  hours: maybe(number),
  returnsOn: day,
  stateId: maybe(whole),
  statedBy: maybe(whole),
  memory: maybe(json),
  switchedOnAt: maybe(time),
  createdAt: now,
})

export interface FirmwareRow extends Row<FirmwareRow> {
  id: CreationOptional<number>
  modelId: number
  version: string
}
export const firmwares = table<FirmwareRow>('firmwares', { id, modelId: whole, version: word })

export interface UnitFirmwareRow extends Row<UnitFirmwareRow> {
  unitId: number
  firmwareId: number
  seenAt: CreationOptional<Date>
}
export const unitFirmwares = table<UnitFirmwareRow>('unit_firmwares', {
  unitId: { ...whole, primaryKey: true },
  firmwareId: { ...whole, primaryKey: true },
  seenAt: now,
})

export interface SheetRow extends Row<SheetRow> {
  id: CreationOptional<number>
  modelId: number
  version: number
  document: ControlSheet
}
export const sheets = table<SheetRow>('control_sheets', {
  id,
  modelId: whole,
  version: whole,
  document: json,
})

/** A control sheet of a model while it is entered. */
export interface SheetDraftRow extends Row<SheetDraftRow> {
  id: CreationOptional<number>
  modelId: number
  document: SheetDraft
  /** Counted up with each change, so that two windows do not undo each other. */
  revision: CreationOptional<number>
  updatedAt: CreationOptional<Date>
}
export const sheetDrafts = table<SheetDraftRow>('sheet_drafts', {
  id,
  modelId: whole,
  document: json,
  revision: { ...whole, defaultValue: 1 },
  updatedAt: now,
})

/** What somebody wrote down of a unit, at a step of a session or apart from any. */
export interface NoteRow extends Row<NoteRow> {
  id: CreationOptional<number>
  unitId: number
  sessionId: number | null
  step: string | null
  text: string
  createdAt: CreationOptional<Date>
}
export const notes = table<NoteRow>('notes', {
  id,
  unitId: whole,
  sessionId: maybe(whole),
  step: maybe(word),
  text: word,
  createdAt: now,
})

/** The photograph of a note, as base64 (a JPEG): a backup is made of texts, and an archive of JSON. */
export interface PhotoRow extends Row<PhotoRow> {
  id: CreationOptional<number>
  noteId: number
  width: number
  height: number
  jpeg: string
}
export const photos = table<PhotoRow>('photos', {
  id,
  noteId: whole,
  width: whole,
  height: whole,
  jpeg: word,
})
