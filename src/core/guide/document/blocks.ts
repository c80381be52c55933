import type { GuideMeasure, GuideValue } from './case-document'
import type { GuideHdr } from './hdr-document'

/** A figure of a table as it is written, and what is said of it in a few words. */
export interface Cell {
  readonly text: string
  readonly note?: string
  readonly strong?: boolean
}

export interface TableRow {
  readonly label: string
  readonly note?: string
  /** It is what the case is left at. */
  readonly strong?: boolean
  /** Key of the glossary's entry on it. */
  readonly term?: string
  readonly cells: readonly Cell[]
}

/** A setting of a case, with what an editor or the display's memory adds to it. */
export interface SettingRow {
  readonly value: GuideValue
  /** That the display keeps one value for it and for other cases; empty where it does not. */
  readonly shared: string
  /** Those cases, by their labels. */
  readonly sharers: readonly string[]
}

/** What a block holds. */
type Content =
  /** Names with what stands behind them. */
  | { readonly kind: 'facts'; readonly rows: ReadonlyArray<readonly [name: string, text: string]> }
  | { readonly kind: 'settings'; readonly rows: readonly SettingRow[] }
  /** The first column names the rows. */
  | { readonly kind: 'table'; readonly head: readonly string[]; readonly rows: readonly TableRow[] }
  | { readonly kind: 'sentences'; readonly sentences: readonly string[] }
  /** What may be seen, and what to do then; a school, and what it costs. */
  | { readonly kind: 'pairs'; readonly pairs: ReadonlyArray<readonly [term: string, text: string]> }
  /** An editor's words, in Markdown. */
  | { readonly kind: 'prose'; readonly text: string }
  /** ΔE00 of greys out of the box and calibrated. `reference`: of HDR, luminance of the brightest balanced grey, cd/m². */
  | {
      readonly kind: 'chart'
      readonly chart: 'greys'
      readonly before: GuideMeasure
      readonly after: GuideMeasure
      readonly reference?: number
    }
  /** Gamma by level, with what is aimed at. */
  | {
      readonly kind: 'chart'
      readonly chart: 'gamma'
      readonly before: GuideMeasure
      readonly after: GuideMeasure
      readonly aim: ReadonlyArray<{ readonly level: number; readonly gamma: number }>
    }
  /** Luminance on the screen by luminance in the signal. */
  | { readonly kind: 'chart'; readonly chart: 'eotf'; readonly hdr: GuideHdr }

/** A part of a guide, the same for every way of showing it. */
export type Block = Content & {
  readonly key: string
  /** Empty where none stands above it. */
  readonly title: string
  /** Something that got worse. */
  readonly tone?: 'worse'
  /** It is of what was measured, and may stand in the margin. */
  readonly beside?: boolean
}

/** A block of a table. */
export const table = (
  key: string,
  title: string,
  head: readonly string[],
  rows: readonly TableRow[],
): Block => ({ key, title, kind: 'table', head, rows })

/** A block of sentences; none where nothing is to be said. */
export const sentencesBlock = (
  key: string,
  title: string,
  sentences: ReadonlyArray<string | undefined>,
  more: Partial<Pick<Block, 'tone' | 'beside'>> = {},
): Block[] => {
  const said = sentences.filter((s): s is string => Boolean(s))
  return said.length ? [{ key, title, kind: 'sentences', sentences: said, ...more }] : []
}
