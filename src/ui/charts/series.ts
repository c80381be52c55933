/**
 * Shape of a mark, the same on every chart: ring for factory, disc for now and final, cross for the target, a thin line for what a standard
 * would do; a plain line for a recording over time; other runs that are laid on top have squares and triangles, open and full.
 */
export type MarkKind = 'out-of-box' | 'now' | 'target' | 'guide' | 'trace' | OtherMark
type OtherMark = 'square-open' | 'square' | 'triangle-open' | 'triangle'
export const OTHER_MARKS: readonly OtherMark[] = ['square-open', 'triangle', 'square', 'triangle-open']

export interface Series {
  readonly label: string
  readonly kind: MarkKind
  readonly points: ReadonlyArray<{ readonly x: number; readonly y: number; readonly id?: number }>
  readonly line?: boolean
}

/** An axis: its name with the unit, its range, the digits of its figures. */
export interface Axis {
  readonly name: string
  readonly min?: number
  readonly max?: number
  readonly step?: number
  readonly digits?: number
  readonly ticks?: number
  readonly suggestedMin?: number
  readonly suggestedMax?: number
  /** By decades. */
  readonly log?: boolean
  /** How its figures are written; plain numbers where it is left out. */
  readonly format?: (value: number) => string
}
