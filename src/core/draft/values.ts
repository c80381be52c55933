import type { Control } from '#core/display'

/** What a control can be set to. */
export type Values =
  | { readonly kind: 'number'; readonly range: { min: number; max: number; step: number } }
  | { readonly kind: 'choice'; readonly choices: ReadonlyArray<{ value: string; label: string }> }

/** Text that was understood, or a sentence that says what is wrong with it. */
export type Read<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly why: string }
export const read = <T>(value: T): Read<T> => ({ ok: true, value })
export const unread = (why: string): Read<never> => ({ ok: false, why })

/** A number as people type it, with either minus and a comma or a point; undefined for anything else. */
export const numberIn = (text: string): number | undefined => {
  const plain = text.trim().replace(/^[−–]/, '-').replace(/^\+/, '').replace(',', '.')
  return /^-?\d+(\.\d+)?$/.test(plain) ? Number(plain) : undefined
}

/** A key from words: lower-case letters, digits and hyphens, a letter first. In: words; what it begins with where they do not. */
export const keyFrom = (words: string, otherwise: string): string => {
  const plain = words
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
  const whole = /^[a-z]/.test(plain) ? plain : plain ? `${otherwise}-${plain}` : otherwise
  return whole.slice(0, 50).replace(/-+$/, '')
}

/** Keys of which none stands twice. In: keys as wished; keys that are taken. */
export const distinctKeys = (wished: readonly string[], taken: Set<string> = new Set()): string[] =>
  wished.map((key) => {
    let own = key
    for (let n = 2; taken.has(own); n++) own = `${key}-${n}`
    taken.add(own)
    return own
  })

const NUMBER = String.raw`([+−–-]?\d+(?:[.,]\d+)?)`
const RANGE = new RegExp(
  String.raw`^${NUMBER}\s*(?:\.\.\.?|…|to|until|–|—|-)\s*${NUMBER}(?:\s*(?:,|;|\/)?\s*(?:in )?(?:steps? of|step|by|every)\s*${NUMBER})?$`,
  'i',
)

/** Choices as they are listed: between commas, semicolons or bars, or else slashes. */
const listed = (text: string): string[] => {
  const by = /[;|\n]/.test(text) ? /[;|\n]/ : text.includes(',') ? /,/ : /\s\/\s|\//
  return text
    .split(by)
    .map((t) => t.trim())
    .filter(Boolean)
}

/** Reads what a control can be set to: “0 to 100 step 5”, or “Off, Low, High”. In: text; keys that choices had in a sheet, by label. */
export const readValues = (text: string, known: Readonly<Record<string, string>> = {}): Read<Values> => {
  const plain = text.trim().replace(/\s+/g, ' ')
  if (!plain) return unread('Say what it can be set to: “0 to 100”, or “Off, Low, High”.')
  const range = RANGE.exec(plain)
  if (range) {
    const [min, max, step] = range.slice(1).map((t) => (t === undefined ? 1 : numberIn(t)!))
    if (min! >= max!)
      return unread(`A range goes from its lowest to its highest value, not from ${min} to ${max}.`)
    if (step! <= 0) return unread('A step is above zero.')
    if (Math.abs((max! - min!) / step! - Math.round((max! - min!) / step!)) > 1e-6)
      return unread(`Steps of ${step} do not lead from ${min} to ${max}.`)
    return read({ kind: 'number', range: { min: min!, max: max!, step: step! } })
  }
  const choices = listed(plain)
  if (choices.length === 1 && numberIn(choices[0]!) !== undefined)
    return unread(`“${plain}” is one value. Say from where to where: “0 to ${choices[0]}”.`)
  if (choices.length > 40) return unread(`A control has at most 40 choices; these are ${choices.length}.`)
  const long = choices.find((c) => c.length > 80)
  if (long) return unread(`“${long.slice(0, 30)}…” is longer than 80 characters.`)
  const twice = choices.find((c, i) => choices.some((o, j) => j < i && same(o, c)))
  if (twice) return unread(`“${twice}” stands twice.`)
  const keys = distinctKeys(choices.map((label) => known[label] ?? keyFrom(label, 'value')))
  return read({ kind: 'choice', choices: choices.map((label, i) => ({ value: keys[i]!, label })) })
}

/** Whether two words are the same, capitals and spaces aside. */
export const same = (a: string, b: string): boolean =>
  a.trim().toLowerCase().replace(/\s+/g, ' ') === b.trim().toLowerCase().replace(/\s+/g, ' ')

/** One value of a control. Out: the value, or why it has none such. */
export const readValue = (values: Values, text: string): Read<number | string> => {
  if (values.kind === 'choice') {
    const found = values.choices.find((c) => same(c.label, text))
    return found
      ? read(found.value)
      : unread(`“${text.trim()}” is none of its values: ${values.choices.map((c) => c.label).join(', ')}.`)
  }
  const { min, max, step } = values.range
  const value = numberIn(text)
  if (value === undefined) return unread(`“${text.trim()}” is not a number.`)
  if (value < min || value > max) return unread(`It goes from ${min} to ${max}, not to ${value}.`)
  const clicks = (value - min) / step
  return Math.abs(clicks - Math.round(clicks)) < 1e-6
    ? read(value)
    : unread(`${value} must be a multiple of the step, ${step}, from ${min}.`)
}

/** Values as they are typed. */
export const sayValues = (control: Control): string => {
  if (control.kind === 'choice') {
    const labels = control.choices.map((c) => c.label)
    return labels.join(labels.some((l) => l.includes(',')) ? ' | ' : ', ')
  }
  const { min, max, step } = control.range
  return `${min} to ${max}${step === 1 ? '' : ` step ${step}`}`
}
