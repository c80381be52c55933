import { Channel, type Control, Hue, ROLE_TERM, ROLES, Role, type RoleEntry } from '#core/display'
import { numberIn, type Read, read, same, unread } from './values'

/** What a control does, as a row says it. */
export interface Does {
  /** `colour-management`: by the member of the group, hue, saturation or luminance. */
  readonly role: Role | 'colour-management'
  readonly channel?: Channel
  readonly colour?: Hue
  /** Signal level, 0…1. */
  readonly level?: number
}

/** The term for a group of hue, saturation and luminance. */
export const COLOUR_MANAGEMENT = 'Colour management'

/** Other words for a role that cannot mean another. */
const ALSO: ReadonlyArray<readonly [string, Does['role']]> = [
  ['gain', 'gain'],
  ['cut', 'cut'],
  ['luminance', 'peak-luminance'],
  ['backlight', 'peak-luminance'],
  ['white level', 'white-level'],
  ['black level', 'black-level'],
  ['white point', 'white-preset'],
  ['colour temperature', 'white-preset'],
  ['white balance by level', 'level-white'],
  ['gamma by level', 'level-tone'],
  ['dimming', 'dimming'],
  ['sensor', 'ambient-light'],
  ['tone mapping', 'tone-mapping'],
  ['tint', 'hue'],
]

/** Every term that can stand in a row, with what it means. */
export const TERMS: ReadonlyArray<readonly [string, Does['role']]> = [
  ...Role.options.map((role) => [ROLE_TERM[role], role] as const),
  [COLOUR_MANAGEMENT, 'colour-management'],
]

/** The role of a term: as it stands, by its key, or by a beginning that only one term has. */
const roleOf = (text: string): Does['role'] | undefined => {
  const whole = TERMS.find(([term]) => same(term, text))
  if (whole) return whole[1]
  const key = Role.safeParse(text.trim().toLowerCase().replace(/\s+/g, '-'))
  if (key.success) return key.data
  const other = ALSO.find(([word]) => same(word, text))
  if (other) return other[1]
  const plain = text.trim().toLowerCase()
  const begins = plain.length < 2 ? [] : TERMS.filter(([term]) => term.toLowerCase().startsWith(plain))
  return begins.length === 1 ? begins[0]![1] : undefined
}

/** What a role needs to be told of, one by one. */
export const toldOf = (role: Does['role']): NonNullable<RoleEntry['told']> =>
  role === 'colour-management' ? [] : (ROLES[role].told ?? [])
/** Whether a role may be for one colour, or else is for all. */
export const isOfColour = (role: Does['role']): boolean =>
  role === 'colour-management' || ROLES[role].ofColour === true

/** Reads what a control does: “White balance gain, red”, “Multi-point white balance, blue, 5 %”. */
export const readDoes = (text: string): Read<Does> => {
  if (!text.trim())
    return unread('Say what it does. “Something else” is for what none of the other terms names.')
  const [term, ...rest] = text.split(',').map((t) => t.trim())
  const role = roleOf(term!)
  if (!role) return unread(`“${term}” is not a term for what a control does. Choose one of the list.`)
  let [channel, colour, level]: [Channel | undefined, Hue | undefined, number | undefined] = [
    undefined,
    undefined,
    undefined,
  ]
  for (const word of rest.map((w) => w.toLowerCase()).filter(Boolean)) {
    const percent = numberIn(word.replace('%', ''))
    const [asChannel, asHue] = [Channel.safeParse(word), Hue.safeParse(word)]
    if (percent !== undefined && percent >= 0 && percent <= 100) level = Math.round(percent * 10) / 1000
    else if (isOfColour(role) && asHue.success && colour === undefined) colour = asHue.data
    else if (asChannel.success) channel = asChannel.data
    else return unread(`“${word}” is neither a colour nor a level in percent.`)
  }
  return read({
    role,
    ...(channel === undefined ? {} : { channel }),
    ...(colour === undefined ? {} : { colour }),
    ...(level === undefined ? {} : { level }),
  })
}

/** What a control does, as it is typed. */
export const sayDoes = ({ role, channel, colour, level }: Does | Control): string =>
  [
    role === 'colour-management' ? COLOUR_MANAGEMENT : ROLE_TERM[role],
    colour,
    channel,
    level === undefined ? undefined : `${Math.round(1000 * level) / 10} %`,
  ]
    .filter((t) => t !== undefined)
    .join(', ')
