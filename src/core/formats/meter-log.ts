import { type XYZ, xyToXyz } from '#core/colorimetry'
import { type ColumnMap, guessColumns, numberIn } from './readings-table'

/** A reading in a meter's log. */
export interface LoggedReading {
  /** Place of its line in the file, from 0. */
  readonly line: number
  readonly xyz: XYZ
  /** Signal of the patch, 0…1, where the log says so. */
  readonly signal?: readonly [number, number, number]
}

/** Signals are in percent, as shares or as 8-bit or 10-bit codes: told by the largest. */
const scaleOf = (largest: number): number =>
  largest <= 1.05 ? 1 : largest <= 105 ? 100 : largest <= 255 ? 255 : 1023

/** Columns by place where no line of heads says what they are: three numbers are X, Y and Z, or Y, x and y where two of them are shares. */
const byContent = (rows: ReadonlyArray<readonly string[]>): ColumnMap | undefined => {
  const whole = rows.filter((cells) => cells.length >= 3)
  const numbers = whole.map((cells) => cells.map((c) => numberIn(c)))
  const columns = (numbers[0] ?? []).flatMap((_, i) => (numbers.every((r) => r[i] !== undefined) ? [i] : []))
  // The last three: a time and a name stand before them.
  const [a, b, c] = columns.slice(-3)
  if (a === undefined || b === undefined || c === undefined) return undefined
  const isShare = (i: number) => numbers.every((r) => r[i]! > 0 && r[i]! < 0.85)
  return isShare(b) && isShare(c) ? { Y: a, x: b, y: c } : { X: a, Y: b, Z: c }
}

/**
 * The readings of a log that a meter's program writes, by its content. In: its lines as cells, the last one left out while it is being written.
 * Out: readings in order; lines that are none are passed over.
 */
export const readingsInLog = (lines: ReadonlyArray<readonly string[]>): LoggedReading[] => {
  const headAt = lines.findIndex((cells) => {
    const map = guessColumns(cells)
    return map.Y !== undefined && (map.X !== undefined || map.x !== undefined)
  })
  const body = lines.slice(headAt + 1)
  const map = headAt >= 0 ? guessColumns(lines[headAt]!) : byContent(body)
  if (!map) return []
  const at = (cells: readonly string[], column: number | undefined) =>
    column === undefined ? undefined : numberIn(cells[column] ?? '')
  const signals = (
    [map.red, map.green, map.blue].every((c) => c !== undefined)
      ? [map.red, map.green, map.blue]
      : map.grey === undefined
        ? []
        : [map.grey, map.grey, map.grey]
  ) as number[]
  const scale = scaleOf(Math.max(0, ...body.flatMap((cells) => signals.map((c) => at(cells, c) ?? 0))))
  return body.flatMap((cells, i): LoggedReading[] => {
    const Y = at(cells, map.Y)
    const [X, Z, x, y] = [at(cells, map.X), at(cells, map.Z), at(cells, map.x), at(cells, map.y)]
    const xyz: XYZ | undefined =
      Y === undefined || Y < 0
        ? undefined
        : X !== undefined && Z !== undefined
          ? [X, Y, Z]
          : x !== undefined && y !== undefined && x > 0 && y > 0
            ? xyToXyz([x, y], Y)
            : undefined
    if (!xyz || xyz.some((v) => v < 0)) return []
    const rgb = signals.map((c) => at(cells, c))
    const told = rgb.length === 3 && rgb.every((v) => v !== undefined)
    return [
      {
        line: headAt + 1 + i,
        xyz,
        ...(told ? { signal: rgb.map((v) => v! / scale) as [number, number, number] } : {}),
      },
    ]
  })
}
