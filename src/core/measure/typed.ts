import { type XYZ, xyToXyz } from '#core/colorimetry'

/** How typed numbers are meant: three tristimulus values, or luminance with chromaticity. */
type TypedForm = 'XYZ' | 'Yxy'
type Typed =
  | {
      ok: true
      values: XYZ[] /** As they were typed, line by line. */
      numbers: Array<[number, number, number]>
    }
  | { ok: false; line: number; why: string }

/** A number as people write it: with a point or a comma, without any thousands. */
const numberOf = (text: string): number | undefined => {
  const plain = text.replace(',', '.')
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d{1,2})?$/i.test(plain) ? Number(plain) : undefined
}

/** Parts of a line: by tabs or semicolons where there are any, then by spaces, and by commas only where points are the decimal sign. */
const partsOf = (line: string): string[] => {
  const split = (by: RegExp) =>
    line
      .split(by)
      .map((p) => p.trim())
      .filter(Boolean)
  for (const by of [/[\t;]/, /\s+/]) {
    const parts = split(by)
    if (parts.length === 3) return parts.map((p) => p.replace(/,$/, ''))
  }
  return split(/,/)
}

/**
 * Reads what was typed or pasted: one reading a line, three numbers each.
 * In: text, form. Out: absolute XYZ in cd/m², or the first line that cannot be read and why.
 */
export const parseTyped = (text: string, form: TypedForm): Typed => {
  const lines = text.split(/\r?\n/).map((l) => l.trim())
  const values: XYZ[] = []
  const asTyped: Array<[number, number, number]> = []
  for (const [i, line] of lines.entries()) {
    if (line === '') continue
    const parts = partsOf(line)
    const numbers = parts.map(numberOf)
    const no = (why: string): Typed => ({ ok: false, line: i + 1, why })
    if (parts.length !== 3) return no(`“${line.slice(0, 60)}” is not three numbers.`)
    const bad = numbers.indexOf(undefined)
    if (bad >= 0) return no(`“${parts[bad]!.slice(0, 20)}” is not a number.`)
    const [a, b, c] = numbers as [number, number, number]
    if (form === 'XYZ') {
      if (a < 0 || b < 0 || c < 0) return no('X, Y and Z are never below zero.')
      values.push([a, b, c])
      asTyped.push([a, b, c])
      continue
    }
    if (a < 0) return no('Luminance is never below zero.')
    if (!(b > 0 && c > 0 && b + c <= 1)) return no('x and y lie between 0 and 1, and together at most at 1.')
    values.push(xyToXyz([b, c], a))
    asTyped.push([a, b, c])
  }
  return values.length
    ? { ok: true, values, numbers: asTyped }
    : { ok: false, line: 1, why: 'Nothing was typed.' }
}
