import { z } from 'zod'
import { BelievedMemory, ControlSheet } from '#core/display'
import { SheetDraft } from '#core/draft'
import { LARGEST_PHOTO } from '#core/entry'
import { DisplayInputs, SourceDevice } from '#core/signal'
import { STEP_KEYS } from '#core/steps'
import {
  day,
  here,
  id,
  json,
  key,
  lent,
  maybe,
  names,
  now,
  number,
  type RowOf,
  table,
  text,
  time,
  whole,
  word,
} from './table'

export const models = table('models', {
  id,
  maker: text(),
  name: text(),
  slug: text(),
  panelKind: text(),
  /** Sockets and what it takes over them; null where nobody entered it. */
  inputs: maybe(json(DisplayInputs)),
})
export type ModelRow = RowOf<typeof models>

/** A device that sends pictures. */
export const sources = table('sources', {
  id,
  name: text(),
  document: json(SourceDevice),
  createdAt: now,
  removedAt: maybe(time),
})
export type SourceRow = RowOf<typeof sources>

export const variants = table('variants', {
  id,
  modelId: names('models'),
  sizeInch: number(),
  region: text(),
})
export type VariantRow = RowOf<typeof variants>

export const units = table('units', {
  id,
  variantId: names('variants'),
  label: text(),
  serial: text(),
  origin: text(),
  hours: maybe(number()),
  returnsOn: day,
  /** What its display stands at, as far as is known, and the session that set it last; null before the first. */
  stateId: maybe(names('states')),
  statedBy: maybe(names('sessions')),
  /** What it is believed to hold, by place; null where nobody has seen anything. */
  memory: maybe(json(BelievedMemory)),
  /** When the display was switched on, where a person said so. */
  switchedOnAt: maybe(time),
  createdAt: now,
})
export type UnitRow = RowOf<typeof units>

export const firmwares = table('firmwares', { id, modelId: here(names('models')), version: text(120) })
export type FirmwareRow = RowOf<typeof firmwares>

export const unitFirmwares = table('unit_firmwares', {
  unitId: key(here(names('units'))),
  firmwareId: key(names('firmwares')),
  seenAt: now,
})
export type UnitFirmwareRow = RowOf<typeof unitFirmwares>

export const sheets = table('control_sheets', {
  id,
  modelId: here(names('models')),
  version: whole(z.number().int().positive().max(1_000_000)),
  document: json(ControlSheet),
})
export type SheetRow = RowOf<typeof sheets>

/** A control sheet of a model while it is entered. */
export const sheetDrafts = table('sheet_drafts', {
  id,
  modelId: names('models'),
  document: json(SheetDraft),
  /** Counted up with each change, so that two windows do not undo each other. */
  revision: lent(whole(), 1),
  updatedAt: now,
})
export type SheetDraftRow = RowOf<typeof sheetDrafts>

/** What somebody wrote down of a unit, at a step of a session or apart from any. */
export const notes = table('notes', {
  id,
  unitId: here(names('units')),
  sessionId: maybe(names('sessions')),
  step: maybe(word(z.enum(STEP_KEYS))),
  text: text(2000),
  createdAt: now,
})
export type NoteRow = RowOf<typeof notes>

/** Pixels of a side of a photograph. */
const side = whole(z.number().int().positive().max(65_535))
/** The photograph of a note, as base64 (a JPEG): a backup is made of texts, and an archive of JSON. */
export const photos = table('photos', {
  id,
  noteId: names('notes'),
  width: side,
  height: side,
  jpeg: word(z.base64().max(4 * Math.ceil(LARGEST_PHOTO / 3))),
})
export type PhotoRow = RowOf<typeof photos>
