import type { Channel, Hue, Role } from '#core/display'
import { numberIn, type Read, read, unread } from './values'

/** One control of a group: what tells it from the others. */
export interface Member {
  readonly channel?: Channel
  readonly colour?: Hue
  /** Signal level, 0…1. */
  readonly level?: number
  /** Which of the levels, counted from 1. */
  readonly n?: number
  /** Of colour management by hue, saturation and luminance: which of them. */
  readonly role?: Role
  /** What the menu calls it along each factor, where that is not the plain name: “red=R”. */
  readonly named?: Readonly<Partial<Record<AxisKind, string>>>
}
type AxisKind = 'channel' | 'colour' | 'level' | 'control'

/** What a group has one control for, as one factor of the product. */
export interface Axis {
  readonly of: AxisKind
  readonly members: readonly Member[]
}

const CHANNELS: readonly Channel[] = ['red', 'green', 'blue']
const SIX: readonly Hue[] = ['red', 'green', 'blue', 'cyan', 'magenta', 'yellow']
const CONTROLS: ReadonlyMap<string, Role> = new Map([
  ['hue', 'hue'],
  ['tint', 'hue'],
  ['saturation', 'saturation'],
  ['luminance', 'colour-luminance'],
  ['brightness', 'colour-luminance'],
])
const INITIALS: Readonly<Record<string, Hue>> = {
  ...{ r: 'red', g: 'green', b: 'blue', c: 'cyan', m: 'magenta', y: 'yellow' },
}

const HINT = 'for example “20 levels × red, green, blue” or “6 colours × hue, saturation, luminance”'

const roundLevel = (percent: number): number => Math.round(percent * 10) / 1000

/** Levels of a count that divides the signal evenly: with 0 % where only that makes the steps even. */
const evenLevels = (count: number): Read<number[]> => {
  const even = (step: number) => Math.abs(step * 2 - Math.round(step * 2)) < 1e-9
  if (even(100 / count)) return read(Array.from({ length: count }, (_, i) => (100 / count) * (i + 1)))
  if (count > 1 && even(100 / (count - 1)))
    return read(Array.from({ length: count }, (_, i) => (100 / (count - 1)) * i))
  return unread(`Say which ${count} levels these are: “levels 2.5, 5 to 100 step 5”.`)
}

/** Levels as they are listed, in percent: “2.5, 5 to 100 step 5”. */
const listedLevels = (text: string): Read<number[]> => {
  const levels: number[] = []
  for (const part of text
    .replaceAll('%', '')
    .split(/[,;]/)
    .map((t) => t.trim())
    .filter(Boolean)) {
    const range = /^([\d.]+)\s*(?:to|\.\.\.?|…|–|-)\s*([\d.]+)(?:\s*(?:step|by|every)\s*([\d.]+))?$/i.exec(
      part,
    )
    const [from, to] = [numberIn(range?.[1] ?? part), numberIn(range?.[2] ?? part)]
    const step = range?.[3] === undefined ? 10 : numberIn(range[3])
    if (from === undefined || to === undefined || !step || step <= 0 || from > to)
      return unread(`“${part}” is no list of levels; ${HINT}.`)
    if ((to - from) / step > 400) return unread('A sheet has at most 400 controls.')
    for (let level = from; level <= to + 1e-9; level += step) levels.push(Math.round(level * 1000) / 1000)
  }
  if (levels.some((l) => l < 0 || l > 100)) return unread('Levels lie between 0 and 100 %.')
  if (levels.some((l, i) => levels.indexOf(l) !== i)) return unread('A level stands twice.')
  return levels.length ? read(levels) : unread(`Say which levels these are; ${HINT}.`)
}

const levelAxis = (levels: readonly number[]): Axis => ({
  of: 'level',
  members: levels.map((percent, i) => ({ level: roundLevel(percent), n: i + 1 })),
})

/** A factor, with the names that the menu gives its members: “hue=Turn, saturation=Amount”. */
const axisOf = (text: string, colours: boolean): Read<Axis> => {
  if (!text.includes('=')) return plainAxisOf(text, colours)
  const parts = text.split(/[,;]/).map((part) => part.split('='))
  const axis = plainAxisOf(parts.map(([name]) => name!.trim()).join(', '), colours)
  if (!axis.ok) return axis
  const { of, members } = axis.value
  return read({
    of,
    members: members.map((member, i) => {
      const own = parts[i]?.[1]?.trim()
      return own ? { ...member, named: { [of]: own } } : member
    }),
  })
}

const plainAxisOf = (text: string, colours: boolean): Read<Axis> => {
  const plain = text.trim().toLowerCase()
  const count = /^(\d+)\s*-?\s*(?:levels?|points?|steps?)$/.exec(plain)
  if (count) {
    const n = Number(count[1])
    if (n < 1 || n > 100) return unread('A group has 1 to 100 levels.')
    const levels = evenLevels(n)
    return levels.ok ? read(levelAxis(levels.value)) : levels
  }
  const named = /^(?:levels?|points?|steps?)\s*:?\s*(.+)$/.exec(plain)
  if (named || plain.includes('%')) {
    const levels = listedLevels(named?.[1] ?? plain)
    return levels.ok ? read(levelAxis(levels.value)) : levels
  }
  if (/^(?:6|six)?\s*colou?rs$/.test(plain))
    return read({ of: 'colour', members: SIX.map((colour) => ({ colour })) })
  if (/^(?:3|three)?\s*(?:channels|rgb)$/.test(plain))
    return read({ of: 'channel', members: CHANNELS.map((channel) => ({ channel })) })
  const words = plain.split(/[,;/+&]| and /).flatMap((w) => w.trim() || [])
  if (words.length && words.every((w) => CONTROLS.has(w)))
    return read({ of: 'control', members: words.map((w) => ({ role: CONTROLS.get(w)! })) })
  const hues = words.map((w) => INITIALS[w] ?? (SIX.includes(w as Hue) ? (w as Hue) : undefined))
  if (hues.length && hues.every((h) => h !== undefined)) {
    if (hues.some((h, i) => hues.indexOf(h) !== i)) return unread('A colour stands twice.')
    const only = hues.every((h) => CHANNELS.includes(h as Channel))
    return read(
      only && !colours
        ? { of: 'channel', members: hues.map((channel) => ({ channel: channel as Channel })) }
        : { of: 'colour', members: hues.map((colour) => ({ colour })) },
    )
  }
  const [first] = words
  if (words.length > 1 && words.every((w) => numberIn(w) !== undefined)) {
    const levels = listedLevels(plain)
    return levels.ok ? read(levelAxis(levels.value)) : levels
  }
  return unread(`“${first ?? text}” is not understood; ${HINT}.`)
}

/**
 * Reads what a group has one control for. In: text; whether red, green and blue are meant as colours rather than channels. Out: its factors, the
 * outermost first; none where it is one control.
 */
export const readEach = (text: string, colours: boolean): Read<readonly Axis[]> => {
  if (!text.trim()) return read([])
  const axes: Axis[] = []
  for (const part of text.split(/×|\*|\bx\b/i)) {
    // A colour has channels: what follows colours are those.
    const axis = axisOf(part, colours && !axes.some((a) => a.of === 'colour'))
    if (!axis.ok) return axis
    if (axes.some((a) => a.of === axis.value.of))
      return unread(`“${part.trim()}” is the same kind of thing twice.`)
    axes.push(axis.value)
  }
  return read(axes)
}

/** Each control of a group, in order. */
export const membersOf = (axes: readonly Axis[]): Member[] =>
  axes.reduce<Member[]>(
    (all, { members }) =>
      all.flatMap((a) => members.map((b) => ({ ...a, ...b, named: { ...a.named, ...b.named } }))),
    [{}],
  )

const CONTROL_NAME: Readonly<Partial<Record<Role, string>>> = {
  hue: 'hue',
  saturation: 'saturation',
  'colour-luminance': 'luminance',
}

/** What tells a member from the others of its group; empty where there are no others. */
export const memberName = (axes: readonly Axis[], member: Member): string =>
  axes
    .map(({ of }) => `${of} ${nameOf(member, of)}`)
    .sort()
    .join(', ')

/** What the menu calls a member along one factor; undefined where it has no name of its own there. */
export const ownNameOf = ({ named }: Member, of: AxisKind): string | undefined => named?.[of]

/** What a member is called along one factor, in plain words. */
export const nameOf = (member: Member, of: AxisKind): string =>
  of === 'level'
    ? `${Math.round(1000 * member.level!) / 10} %`
    : of === 'control'
      ? CONTROL_NAME[member.role!]!
      : of === 'channel'
        ? member.channel!
        : member.colour!

/** Numbers with equal steps between them as a run: “2, 5 to 95 step 5, 97”. */
const inRuns = (numbers: readonly number[]): string => {
  const parts: string[] = []
  for (let i = 0; i < numbers.length; ) {
    const step = Math.round(10 * ((numbers[i + 1] ?? 0) - numbers[i]!)) / 10
    let end = i + 1
    while (end + 1 < numbers.length && Math.abs(numbers[end + 1]! - numbers[end]! - step) < 1e-9) end++
    if (step > 0 && end - i >= 3) {
      parts.push(`${numbers[i]} to ${numbers[end]}${step === 10 ? '' : ` step ${step}`}`)
      i = end + 1
    } else parts.push(String(numbers[i++]))
  }
  return parts.join(', ')
}

/** A factor as it is typed. */
export const sayAxis = ({ of, members }: Axis): string => {
  const plain = members.map((m) => nameOf(m, of).replace(' %', ''))
  if (members.some((m) => ownNameOf(m, of)))
    return `${of === 'level' ? 'levels ' : ''}${members.map((m, i) => `${plain[i]}=${ownNameOf(m, of) ?? plain[i]}`).join(', ')}`
  if (of !== 'level')
    return plain.length === 6 && plain.every((n, i) => n === SIX[i]) ? '6 colours' : plain.join(', ')
  const even = evenLevels(members.length)
  return even.ok && even.value.every((l, i) => roundLevel(l) === members[i]!.level)
    ? `${members.length} levels`
    : `levels ${inRuns(members.map((m) => Math.round(1000 * m.level!) / 10))} %`
}
