import { ControlSheet } from '#core/display'
import { bad, good, type Result } from './result'

/** Longest sheet or state that is taken, characters. */
export const LARGEST_JSON = 2_000_000

/** JSON from text that a person gave, or where it goes wrong. In: text; most characters. */
export const readJson = (text: string, most = LARGEST_JSON): Result<unknown> => {
  if (text.length > most) return bad(`The file is longer than ${Math.round(most / 1e6)} MB.`)
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
