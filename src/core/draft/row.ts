import { z } from 'zod'

const text = (most: number) => z.string().max(most).default('')

/**
 * A line of a control sheet while it is entered: one control, or a group of controls that are alike. All is text as a person typed it; what
 * it means, and what is wrong with it, `readDraft` says.
 */
export const DraftRow = z.object({
  /** Tells rows apart while they are moved about. */
  id: z.string().regex(/^[a-z0-9-]{1,40}$/),
  /** Menu page, outermost first: “Picture › White balance”. May hold `{level}`, `{n}`, `{channel}`, `{colour}`, `{control}`. */
  menu: text(400),
  /** The maker's own label, which may hold the same. */
  label: text(120),
  /** What it does, in standard terms: “White balance gain, red”. */
  does: text(120),
  /** Of a group, what it has one control for: “20 levels × red, green, blue”. */
  each: text(300),
  /** “0 to 100”, “−50 to 50 step 5”, “Off, Low, High”. */
  values: text(1_000),
  /** Factory default, and that of modes that have another: “50; Film: 45”. */
  factory: text(600),
  /** The value at which it does nothing; “–” where there is none. */
  neutral: text(80),
  /** “mode, signal”. */
  stored: text(80),
  /** “Colour space = Native; signal = HDR”. */
  needs: text(600),
  /** One sentence where the label misleads. */
  caution: text(300),
  /** Keys of its controls where they came from a sheet, by what tells them apart: readings are kept under them. */
  keys: z.record(z.string().max(80), z.string().max(60)).default({}),
  /** Keys of its choices by their labels, likewise. */
  choiceKeys: z.record(z.string().max(80), z.string().max(60)).default({}),
})
export type DraftRow = z.infer<typeof DraftRow>

/** Fields of a row that a person fills in. */
export type DraftField = Exclude<keyof DraftRow, 'id' | 'keys' | 'choiceKeys'>

/** Most rows of a draft, as of a sheet. */
export const MOST_ROWS = 400

/** A control sheet while it is entered. */
export const SheetDraft = z.object({
  format: z.literal('wexmar-sheet-draft/1'),
  rows: z.array(DraftRow).max(MOST_ROWS),
})
export type SheetDraft = z.infer<typeof SheetDraft>

/** A row that nothing was typed into. In: its id; row before it, whose menu page and place of storage it begins with. */
export const emptyRow = (id: string, before?: DraftRow): DraftRow => ({
  ...{ id, label: '', does: '', each: '', values: '', factory: '', neutral: '', needs: '', caution: '' },
  menu: before?.menu ?? '',
  stored: before?.stored ?? '',
  keys: {},
  choiceKeys: {},
})

/** Whether nothing was typed into a row but what it began with. */
export const isEmptyRow = ({
  label,
  does,
  each,
  values,
  factory,
  neutral,
  needs,
  caution,
}: DraftRow): boolean =>
  [label, does, each, values, factory, neutral, needs, caution].every((t) => t.trim() === '')

/** An id that no row has. */
export const freshId = (rows: readonly DraftRow[]): string =>
  `r${1 + rows.reduce((most, { id }) => Math.max(most, Number(/^r(\d+)$/.exec(id)?.[1] ?? 0)), 0)}`
