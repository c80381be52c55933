import type { Control, ControlValue, Memory } from '#core/display'
import type { Transfer } from '#core/signal'
import { type Axis, type Member, nameOf, ownNameOf } from './across'
import type { DraftRow } from './row'
import { type Read, read, readValue, same, unread, type Values } from './values'

export const words = (text: string, by: RegExp): string[] =>
  text
    .split(by)
    .map((t) => t.trim())
    .filter(Boolean)

const MEMORY: ReadonlyArray<readonly [RegExp, Memory]> = [
  [/^(m|modes?|picture modes?|per mode)$/, 'mode'],
  [/^(s|signals?|per signal|sdr and hdr apart)$/, 'signal'],
  [/^(i|inputs?|per input)$/, 'input'],
  [/^(w|white[ -]?presets?|presets?|per preset)$/, 'white-preset'],
]

/** Where a value is stored: “mode, signal”, “msi”, “display”. */
export const readStored = (text: string): Read<Memory[]> => {
  const plain = text.trim().toLowerCase()
  if (!plain)
    return unread('Say with what it is stored: mode, signal, input, white preset, or once for the display.')
  if (/^(d|displays?|once|once for the display|global|all)$/.test(plain)) return read([])
  const letters = /^[msiw]{1,4}$/.test(plain) ? [...plain] : words(plain, /[,;+&/]| and /)
  const found: Memory[] = []
  for (const word of letters) {
    const memory = MEMORY.find(([names]) => names.test(word))?.[1]
    if (!memory) return unread(`“${word}” is none of mode, signal, input, white preset, display.`)
    if (!found.includes(memory)) found.push(memory)
  }
  return read(found)
}

/** Where a value is stored, as it is typed. */
export const sayStored = (memory: readonly Memory[]): string =>
  memory.length ? memory.map((m) => m.replace('-', ' ')).join(', ') : 'display'

const fill = (pattern: string, member: Member): string =>
  pattern.replace(/\{(level|n|channel|colou?r|control)\}/gi, (whole, name: string) => {
    const of = name.toLowerCase().replace('color', 'colour') as Axis['of'] | 'n'
    if (of === 'n') return member.n ? String(member.n) : whole
    const key = of === 'control' ? 'role' : of
    if (member[key] === undefined) return whole
    const own = ownNameOf(member, of)
    if (own) return own
    const plain = nameOf(member, of).replace(' %', '')
    return name[0] === name[0]!.toUpperCase() ? capital(plain) : plain
  })
const capital = (text: string): string => text[0]!.toUpperCase() + text.slice(1)
const PLACE: Readonly<Record<Axis['of'], RegExp>> = {
  level: /\{(level|n)\}/i,
  channel: /\{channel\}/i,
  colour: /\{colou?r\}/i,
  control: /\{control\}/i,
}

/** Menu page and label of a member: what no placeholder says goes to the end of them, the last factor to the label. */
export const placeOf = (
  row: DraftRow,
  axes: readonly Axis[],
  member: Member,
): { path: string[]; label: string } => {
  const open = axes.filter(({ of }) => !PLACE[of].test(row.menu) && !PLACE[of].test(row.label))
  const inLabel = open.at(-1)
  const own = inLabel && ownNameOf(member, inLabel.of)
  const name = inLabel && (own ?? nameOf(member, inLabel.of))
  const label = fill(row.label.trim(), member)
  return {
    path: [
      ...words(fill(row.menu, member), /[›>]|\s\/\s/),
      ...open.slice(0, -1).map(({ of }) => ownNameOf(member, of) ?? capital(nameOf(member, of))),
    ],
    label: name === undefined ? label : label ? `${label} ${name}` : (own ?? capital(name)),
  }
}

const SIGNALS: ReadonlyArray<readonly [RegExp, readonly Transfer[]]> = [
  [/^sdr$/i, ['sdr']],
  [/^hdr$/i, ['pq', 'hlg']],
  [/^pq$/i, ['pq']],
  [/^hlg$/i, ['hlg']],
]

type Need = NonNullable<Control['needs']>[number]

/** What must hold so that a control is not greyed out: “Colour space = Native or Auto; signal = HDR”. In: text, what the sheet has. */
export const readNeeds = (text: string, controls: readonly Control[]): Read<Need[]> => {
  const needs: Need[] = []
  for (const part of words(text, /;/)) {
    const at = part.indexOf('=')
    if (at < 0)
      return unread(
        `“${part}” is not understood. Write a label, an equals sign and the values: “Gamma = 2.2”.`,
      )
    const name = part.slice(0, at).trim()
    const values = words(part.slice(at + 1), /,| or /)
    if (/^signal$/i.test(name)) {
      const all = values.map((v) => SIGNALS.find(([word]) => word.test(v))?.[1])
      if (!all.length || all.some((a) => a === undefined)) return unread('A signal is SDR, HDR, PQ or HLG.')
      needs.push({ signal: [...new Set(all.flatMap((a) => a!))] })
      continue
    }
    if (/^metadata$/i.test(name)) {
      const known = values.map((v) => v.toLowerCase())
      if (!known.length || known.some((v) => v !== 'static' && v !== 'dynamic'))
        return unread('Metadata are static or dynamic.')
      needs.push({ metadata: known as Array<'static' | 'dynamic'> })
      continue
    }
    if (/^scan$/i.test(name)) {
      const known = values.map((v) => v.toLowerCase())
      if (!known.length || known.some((v) => v !== 'progressive' && v !== 'interlaced'))
        return unread('A scan is progressive or interlaced.')
      needs.push({ scan: known as Array<'progressive' | 'interlaced'> })
      continue
    }
    const label = words(name, /[›>]/)
    const found = controls.filter(
      (c) =>
        same(c.label, label.at(-1) ?? '') &&
        label.slice(0, -1).every((page, i, pages) => same(c.path.at(i - pages.length) ?? '', page)),
    )
    if (found.length === 0) {
      const begun = (label.at(-1) ?? '').toLowerCase()
      const meant = begun && controls.find((c) => c.label.toLowerCase().startsWith(begun))
      return unread(meant ? `Finish the label: “${meant.label}”?` : `No row is labelled “${name}”.`)
    }
    if (found.length > 1)
      return unread(`“${name}” stands on several pages. Write the page before it: “Page › ${label.at(-1)}”.`)
    const [other] = found
    const own: Values =
      other!.kind === 'number'
        ? { kind: 'number', range: other!.range }
        : { kind: 'choice', choices: other!.choices }
    const is: ControlValue[] = []
    for (const value of values) {
      const one = readValue(own, value)
      if (!one.ok) return unread(`“${name}”: ${one.why}`)
      is.push(one.value)
    }
    if (!is.length) return unread(`Say at which value of “${name}”.`)
    needs.push({ control: other!.key, is })
  }
  return needs.length > 8 ? unread('At most 8 conditions.') : read(needs)
}
