import { type XYZ, xyToXyz } from '#core/colorimetry'
import type { Patch } from '#core/measure'
import { signalOf } from '#core/signal'
import type { TextTable } from './cgats'

/** What a column of an imported table may mean. */
export const COLUMN_MEANING = {
  X: 'X, cd/m²',
  Y: 'Y (luminance), cd/m²',
  Z: 'Z, cd/m²',
  x: 'x',
  y: 'y',
  red: 'red signal',
  green: 'green signal',
  blue: 'blue signal',
  grey: 'grey signal (all three)',
  name: 'name of the patch',
  window: 'window, % of the screen',
  taken: 'time of the reading',
} as const
export type ColumnRole = keyof typeof COLUMN_MEANING
/** Which column of the table, counted from 0, holds what. */
export type ColumnMap = Readonly<Partial<Record<ColumnRole, number>>>

/** How signals are written. */
export const SIGNAL_SCALE = {
  percent: '0 to 100 %',
  unit: '0 to 1',
  full8: '8-bit codes, full range (0 to 255)',
  limited8: '8-bit codes, limited range (16 to 235)',
  limited10: '10-bit codes, limited range (64 to 940)',
} as const
export type SignalScale = keyof typeof SIGNAL_SCALE

interface ImportedReading {
  readonly row: number
  readonly patch: Patch
  readonly xyz: XYZ
  readonly taken?: string
}
export interface RowProblem {
  /** Line of the file. */
  readonly row: number
  readonly why: string
}
interface TableReport {
  readonly readings: readonly ImportedReading[]
  readonly problems: readonly RowProblem[]
}

const USUAL_NAMES: Readonly<Record<ColumnRole, readonly string[]>> = {
  X: ['x_abs', 'xyz_x', 'x (cd/m²)', 'x, cd/m²', 'bigx', 'cap_x'],
  Y: ['xyz_y', 'y, cd/m²', 'y (cd/m²)', 'luminance', 'lv', 'cd/m²', 'cd/m2', 'nits'],
  Z: ['xyz_z', 'z, cd/m²', 'z (cd/m²)', 'z'],
  x: ['xyy_x', 'cie x', 'cie_x', 'chroma_x'],
  y: ['xyy_y', 'cie y', 'cie_y', 'chroma_y'],
  red: ['rgb_r', 'r', 'red', 'red signal, %'],
  green: ['rgb_g', 'g', 'green', 'green signal, %'],
  blue: ['rgb_b', 'b', 'blue', 'blue signal, %'],
  grey: ['grey', 'gray', 'level', 'ire', 'stimulus', 'grey signal, %'],
  name: ['sample_name', 'patch', 'name', 'label'],
  window: ['window', 'window, %', 'window, % of the screen'],
  taken: ['taken', 'time', 'date', 'timestamp'],
}

/** Guesses from their names what the columns mean; capital X and small x are told apart where both are there. */
export const guessColumns = (columns: readonly string[]): ColumnMap => {
  const map: Partial<Record<ColumnRole, number>> = {}
  const free = (i: number) => !Object.values(map).includes(i)
  for (const letter of ['X', 'Y', 'Z', 'x', 'y'] as const) {
    const i = columns.findIndex((c) => c.trim() === letter)
    if (i >= 0) map[letter] = i
  }
  for (const [role, names] of Object.entries(USUAL_NAMES) as Array<[ColumnRole, readonly string[]]>) {
    if (map[role] !== undefined) continue
    const i = columns.findIndex((c, at) => free(at) && names.includes(c.trim().toLowerCase()))
    if (i >= 0) map[role] = i
  }
  return map
}

/** A number of a table, with a point or a comma; undefined for anything else. */
export const numberIn = (text: string): number | undefined => {
  const plain = text.trim().replace(',', '.')
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d{1,3})?$/i.test(plain) ? Number(plain) : undefined
}

const toSignal = (value: number, scale: SignalScale): number =>
  scale === 'percent'
    ? value / 100
    : scale === 'unit'
      ? value
      : scale === 'full8'
        ? signalOf(value, 8, 'full')
        : signalOf(value, scale === 'limited8' ? 8 : 10, 'limited')

/** Characters that a name may not bring along: control characters, and what turns the reading order of text around. */
const HIDDEN = /[\p{Cc}\p{Cf}]/gu

const keyOf = (signal: readonly number[], window: number | undefined): string =>
  `${signal.every((s) => s === signal[0]) ? `grey-${plain(signal[0]!)}` : `rgb-${signal.map(plain).join('-')}`}${window === undefined ? '' : `-w${plain(window)}`}`.slice(
    0,
    40,
  )
const plain = (share: number) => String(Math.round(share * 1e4) / 100).replace('.', '-')

/**
 * Reads a table row by row.
 * In: table, meaning of its columns, how signals are written. Out: readings that can be imported, and a problem for each row
 * that cannot; nothing is guessed for a cell that is wrong.
 */
export const readTable = (table: TextTable, map: ColumnMap, scale: SignalScale): TableReport => {
  const readings: ImportedReading[] = []
  const problems: RowProblem[] = []
  const wholeXyz = map.X !== undefined && map.Y !== undefined && map.Z !== undefined
  const wholeYxy = map.Y !== undefined && map.x !== undefined && map.y !== undefined
  const wholeRgb = map.red !== undefined && map.green !== undefined && map.blue !== undefined
  if (!wholeXyz && !wholeYxy)
    return { readings, problems: [{ row: 0, why: 'Say which columns hold X, Y and Z, or Y, x and y.' }] }
  if (!wholeRgb && map.grey === undefined)
    return {
      readings,
      problems: [{ row: 0, why: 'Say which columns hold red, green and blue, or the grey level.' }],
    }

  for (const { line, cells } of table.rows) {
    const wrong: string[] = []
    const get = (role: ColumnRole): number => {
      const text = cells[map[role]!]
      const value = text === undefined ? undefined : numberIn(text)
      if (value === undefined)
        wrong.push(
          text === undefined || text.trim() === ''
            ? `${COLUMN_MEANING[role]} is missing`
            : `${COLUMN_MEANING[role]} is “${text.replace(HIDDEN, '').slice(0, 20)}”, no number`,
        )
      return value ?? Number.NaN
    }
    const signalAt = (role: ColumnRole): number => {
      const signal = toSignal(get(role), scale)
      if (signal < -0.001 || signal > 1.001)
        wrong.push(`${COLUMN_MEANING[role]} lies outside black and white (${SIGNAL_SCALE[scale]})`)
      return Math.round(1e6 * Math.min(1, Math.max(0, signal))) / 1e6
    }
    const grey = wholeRgb ? undefined : signalAt('grey')
    const signal: [number, number, number] =
      grey === undefined ? [signalAt('red'), signalAt('green'), signalAt('blue')] : [grey, grey, grey]
    const Y = get('Y')
    let xyz: XYZ = [0, 0, 0]
    if (wholeXyz) xyz = [get('X'), Y, get('Z')]
    else {
      const [x, y] = [get('x'), get('y')]
      if (!(x > 0 && y > 0 && x + y <= 1.0001) && wrong.length === 0)
        wrong.push('x and y lie between 0 and 1, and together at most at 1')
      xyz = xyToXyz([x, y], Y)
    }
    if (xyz.some((v) => v < 0)) wrong.push('light is below zero')
    if (xyz.some((v) => v > 1e6)) wrong.push('light is above 1 000 000 cd/m²')
    let window: number | undefined
    if (map.window !== undefined && cells[map.window]?.trim()) {
      window = get('window') / 100
      if (!(window > 0 && window <= 1) && wrong.length === 0)
        wrong.push('the window lies between 0 and 100 %')
    }
    if (wrong.length) {
      problems.push({ row: line, why: `${wrong.slice(0, 3).join('; ')}.` })
      continue
    }
    const name = (map.name === undefined ? '' : (cells[map.name] ?? ''))
      .replace(HIDDEN, ' ')
      .trim()
      .slice(0, 40)
    const usual = signal.map((s) => `${Math.round(1000 * s) / 10}`)
    const taken = map.taken === undefined ? undefined : cells[map.taken]?.trim().slice(0, 40)
    readings.push({
      row: line,
      patch: {
        key: keyOf(signal, window),
        label: name || (new Set(usual).size === 1 ? `${usual[0]} %` : usual.join(' ')),
        signal,
        ...(window === undefined ? {} : { window }),
      },
      xyz,
      ...(taken ? { taken } : {}),
    })
  }
  return { readings, problems }
}
