import { ControlSheet } from '#core/display'
import { bad, good, type Result } from '../base/result'

/** Longest sheet or state that is taken, characters. */
export const LARGEST_JSON = 2_000_000

/** Deepest nesting of a file, and most lists and objects in one: far more than any of Wexmar's has, and far less than a thread could not hold. */
const DEEPEST = 40
const MOST_GROUPS = 400_000
const MOST_VALUES = 3_000_000

/** Why a JSON text is not read, from a look at its characters alone: what it would take is known before any of it is made. */
const tooMuch = (text: string): string | undefined => {
  let depth = 0
  let groups = 0
  let values = 0
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === QUOTE) {
      for (i++; i < text.length && text.charCodeAt(i) !== QUOTE; i++)
        if (text.charCodeAt(i) === BACKSLASH) i++
    } else if (c === LIST || c === OBJECT) {
      groups++
      if (++depth > DEEPEST) return 'The file is nested too deep.'
    } else if (c === LIST_END || c === OBJECT_END) depth--
    else if (c === COMMA) values++
    if (groups > MOST_GROUPS || values > MOST_VALUES)
      return 'The file holds more values than any file of Wexmar’s.'
  }
  return undefined
}
const [QUOTE, BACKSLASH, COMMA] = [34, 92, 44]
const [LIST, LIST_END, OBJECT, OBJECT_END] = [91, 93, 123, 125]

/** JSON from text that a person gave, or where it goes wrong. In: text; most characters. */
export const readJson = (text: string, most = LARGEST_JSON): Result<unknown> => {
  if (text.length > most) return bad(`The file is longer than ${Math.round(most / 1e6)} MB.`)
  const why = tooMuch(text)
  if (why) return bad(why)
  try {
    return good(JSON.parse(text.replace(/^\uFEFF/, '')))
  } catch (error) {
    return bad(`The file is not JSON: ${(error as Error).message}.`)
  }
}

/** Faults of a file that are named. */
const MOST_FAULTS = 20

/** A control sheet from JSON text, or what is wrong with it: all faults with their places, where there are not too many to be read. */
export const readSheet = (text: string): Result<ControlSheet> => {
  const json = readJson(text)
  if (!json.ok) return json
  const sheet = ControlSheet.safeParse(json.value)
  if (sheet.success) return good(sheet.data)
  const { issues } = sheet.error
  const shown = issues.slice(0, MOST_FAULTS).map((i) => `${i.path.join('.') || 'the sheet'}: ${i.message}`)
  const more = issues.length > MOST_FAULTS ? ` And ${issues.length - MOST_FAULTS} more.` : ''
  return bad(`The file is not a control sheet: ${shown.join('; ')}.${more}`)
}
