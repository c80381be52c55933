import { type Channel, type Hue, NAMED_WHOLE, ROLES, Role, rolesWhere } from '#core/display'
import { type Does, readDoes, sayDoes } from './does'
import { type DraftRow, isEmptyRow } from './row'
import { numberIn, readValues, type Values } from './values'

/** A label that means different things on different displays. */
export interface Trap {
  readonly question: string
  /** Pattern to decide by, where one tells. */
  readonly pattern?: string
  /** What may be seen when it is moved, and what it then does. */
  readonly answers: ReadonlyArray<{ readonly seen: string; readonly does: string }>
}

/** What a row is taken to do before a person says so: a term, or a question that only looking answers. */
export interface Proposal {
  readonly does?: string
  readonly trap?: Trap
}

const does = (role: Does['role'], rest: Omit<Does, 'role'> = {}): string => sayDoes({ role, ...rest })
const trap = (word: string, means: string, answers: Trap['answers'], pattern?: string): Trap => ({
  question: `“${word}” means ${means}. Which of the two happens when you move it?`,
  answers,
  pattern,
})

/** Labels that mislead, in the order in which they are looked for. In: label, values. Out: a question; undefined where the label is none. */
const trapOf = (label: string, values: Values | undefined): Trap | undefined => {
  const word = label.trim()
  if (/dynamic|local|auto|sensor|adaptive/i.test(word)) return undefined
  if (/bright|luminosity/i.test(word))
    return trap(
      word,
      'luminance on some displays and black level on others',
      [
        { seen: 'Shadows appear and vanish, white stays', does: does('black-level') },
        { seen: 'The whole picture dims, white too', does: does('peak-luminance') },
      ],
      'near-black',
    )
  if (/contrast/i.test(word) && values?.kind !== 'choice')
    return trap(
      word,
      'white level on most displays and luminance of the panel on some',
      [
        { seen: 'Bright steps merge or part near white', does: does('white-level') },
        { seen: 'The whole picture dims, every step stays', does: does('peak-luminance') },
      ],
      'near-white',
    )
  if (/black/i.test(word) && values?.kind === 'choice')
    return trap(
      word,
      'signal range on some displays and shadow lift on others',
      [
        { seen: 'Black turns grey or shadows clip, by a large step', does: does('range') },
        { seen: 'Dark greys get lighter, black stays', does: does('shadow-lift') },
      ],
      'near-black',
    )
  if (/black|shadow|dark/i.test(word))
    return trap(
      word,
      'black level on some displays and shadow lift on others',
      [
        { seen: 'Black itself gets lighter', does: does('black-level') },
        { seen: 'Dark greys get lighter, black stays', does: does('shadow-lift') },
      ],
      'near-black',
    )
  if (/^colou?r$|^colou?r (strength|level|depth)$|^vivid/i.test(word))
    return trap(word, 'saturation on most displays and gamut on others', [
      { seen: 'Every colour gets paler, down to grey', does: does('saturation') },
      { seen: 'It offers a few spaces by name', does: does('gamut') },
    ])
  return undefined
}

const COLOUR = /\b(red|green|blue|cyan|magenta|yellow)\b/i
const INITIAL = /(?:^|[\s\-–_.:])([rgb])(?:$|[\s\-–_.:])/i
const FULL: Readonly<Record<string, Channel>> = { r: 'red', g: 'green', b: 'blue' }

const colourIn = (text: string): Hue | undefined => COLOUR.exec(text)?.[1]?.toLowerCase() as Hue | undefined
const channelIn = (text: string): Channel | undefined => {
  const colour = colourIn(text)
  if (colour) return colour === 'red' || colour === 'green' || colour === 'blue' ? colour : undefined
  const initial = INITIAL.exec(text)?.[1]?.toLowerCase()
  return initial ? FULL[initial] : undefined
}

/** Labels that say what they mean, and what that is. */
const PLAIN = Role.options
  .flatMap((role) => {
    const { words } = ROLES[role]
    return words ? [{ role, ...words }] : []
  })
  .sort((a, b) => a.turn - b.turn)

/** Grey and colour controls that go by channel or colour: by their own words, their page and the rows before them. */
const byColour = (row: DraftRow, before: readonly DraftRow[]): string | undefined => {
  const page = row.menu.toLowerCase()
  const label = row.label.toLowerCase()
  const channel = channelIn(row.label)
  // A page of one colour holds what is moved of it.
  const leaf = row.menu.split(/[›>/]/).at(-1) ?? ''
  const colour = colourIn(leaf)
  if (colour) {
    if (/hue|tint/.test(label)) return does('hue', { colour })
    if (/sat/.test(label)) return does('saturation', { colour })
    if (/lum|bright/.test(label)) return does('colour-luminance', { colour })
    if (channel) return does('colour-amount', { colour, channel })
  }
  const level = /(\d+(?:[.,]\d+)?)\s*%/.exec(leaf)?.[1]
  if (level !== undefined && channel) return does('level-white', { channel, level: numberIn(level)! / 100 })
  if (!channel) return undefined
  if (/gain|drive|high|bright/.test(label)) return does('gain', { channel })
  if (/cut|off ?set|bias|low|dark/.test(label)) return does('cut', { channel })
  if (/gain|drive|high/.test(leaf.toLowerCase())) return does('gain', { channel })
  if (/cut|off ?set|bias|low/.test(leaf.toLowerCase())) return does('cut', { channel })
  // “Green” after “Red”: the same thing for the next channel.
  const neighbour = before.findLast((r) => !isEmptyRow(r))
  const same = neighbour && neighbour.menu === row.menu ? readDoes(neighbour.does) : undefined
  if (same?.ok && same.value.channel && same.value.channel !== channel)
    return sayDoes({ ...same.value, channel })
  return /white|balance|colou?r temp|two|2/.test(page) ? does('gain', { channel }) : undefined
}

/** What a group is for, by what it has one control for. */
const ofGroup = ({ each, label, menu }: DraftRow): string | undefined => {
  const text = each.toLowerCase()
  if (/hue|saturation/.test(text)) return does('colour-management')
  const levels = /level|point|step|%/.test(text)
  const channels = /red|green|blue|channel|rgb|\br\b/.test(text)
  if (levels) return does(channels ? 'level-white' : 'level-tone')
  if (/colou?rs|cyan|magenta|yellow/.test(text)) {
    const words = `${label} ${menu}`.toLowerCase()
    if (channels && /×|\*|\bx\b/.test(text)) return does('colour-amount')
    return does(/hue|tint/.test(words) ? 'hue' : /lum|bright/.test(words) ? 'colour-luminance' : 'saturation')
  }
  if (channels) {
    const own = label.toLowerCase()
    const words = /gain|drive|high|cut|off ?set|bias|low/.test(own) ? own : menu.toLowerCase()
    return does(/cut|off ?set|bias|low/.test(words) ? 'cut' : 'gain')
  }
  return undefined
}

/**
 * What a row is taken to do, from its label, its values and its neighbours, in standard terms; or the question that only moving the control
 * answers. In: row, rows before it. Out: nothing where nothing is known.
 */
export const proposeDoes = (row: DraftRow, before: readonly DraftRow[]): Proposal => {
  if (row.each.trim()) {
    const group = ofGroup(row)
    return group ? { does: group } : {}
  }
  if (!row.label.trim()) return {}
  const whole = PLAIN.find(({ turn, pattern }) => turn < NAMED_WHOLE && pattern.test(row.label))
  if (whole) return { does: does(whole.role) }
  const coloured = byColour(row, before)
  if (coloured) return { does: coloured }
  const values = readValues(row.values)
  const asked = trapOf(row.label, values.ok ? values.value : undefined)
  if (asked) return { trap: asked }
  const plain = PLAIN.find(({ pattern }) => pattern.test(row.label))
  return plain ? { does: does(plain.role) } : {}
}

/** Roles of which a value that does nothing is told by the values themselves. */
const HAS_NEUTRAL: ReadonlySet<Does['role']> = new Set<Does['role']>([
  ...rolesWhere((r) => r.measuring !== undefined || r.hasNeutral === true),
  'colour-management',
])
const TURNED_OFF = /^(off|none|no|disabled?|native|0)$/i

/** The value at which a control is taken to do nothing, as it would be typed; empty where nothing tells. In: role, values. */
export const proposeNeutral = (role: Does['role'], values: Readonly<Values>): string => {
  if (!HAS_NEUTRAL.has(role)) return ''
  if (values.kind === 'choice')
    return values.choices.find((c) => TURNED_OFF.test(c.label.trim()))?.label ?? ''
  const { min, max } = values.range
  if (min < 0 && max > 0) return '0'
  return role === 'sharpness' || role === 'noise-reduction' ? String(min) : ''
}

/** Factory default of a control that lies in the middle of a range with two sides, as it would be typed; empty elsewhere. */
export const proposeFactory = (values: Values | undefined): string =>
  values?.kind === 'number' && values.range.min === -values.range.max ? '0' : ''
