/** What a file of rows may weigh. */
export interface RowLimits {
  /** Most bytes of one row. */
  readonly rowBytes: number
  readonly rows: number
  readonly depth: number
}
/** Thrown where a file is not what it should be, with a sentence's middle that says how. */
export class Damaged extends Error {}

const [QUOTE, BACKSLASH, OPEN, CLOSE, OPEN_LIST, CLOSE_LIST, COMMA] = [34, 92, 123, 125, 91, 93, 44]
const isSpace = (c: number) => c === 32 || c === 9 || c === 10 || c === 13

/**
 * Rows of a JSON array of objects, one by one as the file comes in: never more of it is held than one row. In: bytes in pieces; limits,
 * which hold while it comes in. Errors: throws `Damaged` where it is no such array or goes over a limit. Made for files from strangers,
 * which the libraries for this are not.
 */
export async function* jsonRows(
  pieces: AsyncIterable<Uint8Array>,
  limits: RowLimits,
): AsyncGenerator<Record<string, unknown>> {
  let where: 'before' | 'row-or-end' | 'in-row' | 'comma-or-end' | 'row' | 'after' = 'before'
  let depth = 0
  let quoted = false
  let escaped = false
  let rows = 0
  let held: Buffer[] = []
  let bytes = 0
  const keep = (piece: Buffer) => {
    bytes += piece.length
    if (bytes > limits.rowBytes) throw new Damaged(`row ${rows + 1} is larger than ${limits.rowBytes} bytes`)
    if (piece.length) held.push(piece)
  }
  for await (const raw of pieces) {
    const piece = Buffer.from(raw.buffer, raw.byteOffset, raw.byteLength)
    let from = 0
    for (let i = 0; i < piece.length; i++) {
      const c = piece[i]!
      if (where === 'in-row') {
        if (quoted) {
          if (escaped) escaped = false
          else if (c === BACKSLASH) escaped = true
          else if (c === QUOTE) quoted = false
        } else if (c === QUOTE) quoted = true
        else if (c === OPEN || c === OPEN_LIST) {
          if (++depth > limits.depth) throw new Damaged(`row ${rows + 1} is nested too deep`)
        } else if (c === CLOSE || c === CLOSE_LIST) {
          if (--depth > 0) continue
          keep(piece.subarray(from, i + 1))
          if (++rows > limits.rows) throw new Damaged(`there are more than ${limits.rows} rows`)
          yield parsed(Buffer.concat(held), rows)
          held = []
          bytes = 0
          where = 'comma-or-end'
        }
        continue
      }
      if (isSpace(c)) continue
      if (where === 'before' && c === OPEN_LIST) where = 'row-or-end'
      else if ((where === 'row-or-end' || where === 'row') && c === OPEN) {
        where = 'in-row'
        depth = 1
        from = i
      } else if (where === 'comma-or-end' && c === COMMA) where = 'row'
      else if ((where === 'row-or-end' || where === 'comma-or-end') && c === CLOSE_LIST) where = 'after'
      else throw new Damaged('it is not a list of rows')
    }
    if (where === 'in-row') keep(Buffer.from(piece.subarray(from)))
  }
  if ((where as string) !== 'after') throw new Damaged('it is cut off')
}

const parsed = (bytes: Buffer, row: number): Record<string, unknown> => {
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as Record<string, unknown>
  } catch (error) {
    throw new Damaged(`row ${row} is not JSON: ${(error as Error).message.slice(0, 100)}`)
  }
}
