import { type Control, type ControlSheet, rolesWhere } from '#core/display'
import { type Axis, type Member, memberName, membersOf, nameOf, sayAxis } from './across'
import { COLOUR_MANAGEMENT, sayDoes } from './does'
import { sayStored } from './draft-words'
import { proposeNeutral } from './propose'
import { readDraft } from './read-draft'
import type { DraftRow } from './row'
import { sayValues } from './values'

const labelOf = (control: Control, value: unknown): string =>
  control.kind === 'choice' ? (control.choices.find((c) => c.value === value)?.label ?? '') : String(value)

const factoryText = (control: Control, sheet: ControlSheet): string => {
  const mode = sheet.controls.find((c) => c.role === 'picture-mode')
  const inMode = Object.entries(control.inMode ?? {}).flatMap(([key, value]) =>
    mode ? [`${labelOf(mode, key) || key}: ${labelOf(control, value)}`] : [],
  )
  const own = control.inHdr === undefined ? inMode : [...inMode, `HDR: ${labelOf(control, control.inHdr)}`]
  return [labelOf(control, control.default), ...(own.length ? [own.join(', ')] : [])].join('; ')
}

const SIGNAL = { sdr: 'SDR', pq: 'PQ', hlg: 'HLG' } as const

const needsText = (control: Control, sheet: ControlSheet): string =>
  (control.needs ?? [])
    .map((need) => {
      if ('metadata' in need) return `metadata = ${need.metadata.join(', ')}`
      if ('scan' in need) return `scan = ${need.scan.join(', ')}`
      if ('signal' in need) {
        const hdr = need.signal.includes('pq') && need.signal.includes('hlg')
        const rest = need.signal.filter((s) => !hdr || s === 'sdr').map((s) => SIGNAL[s])
        return `signal = ${[...(hdr ? ['HDR'] : []), ...rest].join(', ')}`
      }
      const other = sheet.controls.find((c) => c.key === need.control)
      if (!other) return ''
      const alike = sheet.controls.filter((c) => c.label === other.label).length > 1
      return `${alike ? `${other.path.join(' › ')} › ` : ''}${other.label} = ${need.is.map((v) => labelOf(other, v)).join(', ')}`
    })
    .filter(Boolean)
    .join('; ')

/** One control as a row of its own. */
const single = (control: Control, sheet: ControlSheet, id: string): DraftRow => ({
  id,
  menu: control.path.join(' › '),
  label: control.label,
  does: sayDoes(control),
  each: '',
  values: sayValues(control),
  factory: factoryText(control, sheet),
  neutral:
    control.neutral !== undefined
      ? labelOf(control, control.neutral)
      : proposeNeutral(control.role, control)
        ? '–'
        : '',
  stored: sayStored(control.memory),
  needs: needsText(control, sheet),
  caution: control.caution ?? '',
  keys: { '': control.key },
  choiceKeys:
    control.kind === 'choice' ? Object.fromEntries(control.choices.map((c) => [c.label, c.value])) : {},
})

const COLOUR_ROLES = rolesWhere((r) => r.ofColour === true && r.told === undefined)

/** What a control shares with the others of its group. */
const shared = (row: DraftRow): string =>
  JSON.stringify([row.values, row.factory, row.neutral, row.stored, row.needs, row.caution])

/** Factors of a group, from what its controls are for: each in the order in which its members come, the slowest first. */
const axesOf = (controls: readonly Control[]): Axis[] => {
  const of = (axis: Axis['of']) => (c: Control) =>
    axis === 'control' ? c.role : axis === 'level' ? c.level : axis === 'channel' ? c.channel : c.colour
  const found = (['level', 'colour', 'channel', 'control'] as const).flatMap((axis) => {
    const values = [...new Set(controls.map(of(axis)))]
    if (values.length < 2 || values.includes(undefined)) return []
    // How long a member stays until the next: the longest is the outermost.
    const run = controls.findIndex((c) => of(axis)(c) !== values[0])
    return [{ axis, values, run }]
  })
  return found
    .sort((a, b) => b.run - a.run)
    .map(({ axis, values }) => ({
      of: axis,
      members: values.map(
        (v, i): Member =>
          axis === 'control'
            ? { role: v as Control['role'] }
            : axis === 'level'
              ? { level: v as number, n: i + 1 }
              : ({ [axis]: v } as Member),
      ),
    }))
}

/** Where texts of a group differ along one of its factors: from the first character of the words that do to behind their last one. */
const differing = (texts: readonly string[]): { start: number; names: string[] } | undefined => {
  const [first] = texts
  const same = (at: (t: string) => string | undefined) => texts.every((t) => at(t) === at(first!))
  const shortest = Math.min(...texts.map((t) => t.length))
  let start = 0
  while (start < shortest && same((t) => t[start])) start++
  let end = 0
  while (end < shortest - start && same((t) => t.at(-1 - end))) end++
  // Whole words, not the letters by which they differ.
  const isWord = (c: string | undefined) => c !== undefined && /[\w.]/.test(c)
  while (start > 0 && isWord(first![start - 1])) start--
  while (end > 0 && isWord(first!.at(-end))) end--
  const names = texts.map((t) => t.slice(start, t.length - end))
  return names.every((n) => n.trim() === n && n !== '' && !/[,;=×*›]/.test(n)) ? { start, names } : undefined
}

/** A factor as the menu names its members, and where its names stand in the texts of the first control. */
interface Placed {
  readonly axis: Axis
  readonly at: ReadonlyArray<{ part: number; start: number; length: number; placeholder: string }>
}

/** In: texts of the controls, page by page and then the label; factor; how many controls lie between two of its members. */
const place = (texts: ReadonlyArray<readonly string[]>, axis: Axis, stride: number): Placed | undefined => {
  const { of, members } = axis
  const own = members.map((_, i) => texts[i * stride]!)
  const differs = own[0]!.flatMap((text, part) => {
    if (own.every((t) => t[part] === text)) return []
    const found = differing(own.map((t) => t[part]!))
    return [found && { part, ...found }]
  })
  const [first] = differs
  const named = (names: readonly string[]) => names.join('\0').toLowerCase()
  if (!first || differs.some((d) => !d || named(d.names) !== named(first.names))) return undefined
  const plain = members.map((m) => nameOf(m, of).replace(' %', ''))
  const isPlain = first.names.every((n, i) => n.toLowerCase() === plain[i])
  return {
    axis: isPlain
      ? axis
      : { of, members: members.map((m, i) => ({ ...m, named: { [of]: first.names[i]! } })) },
    at: differs.map((d) => {
      const capital = isPlain && d!.names.every((n) => /^[A-Z]/.test(n))
      return {
        part: d!.part,
        start: d!.start,
        length: d!.names[0]!.length,
        placeholder: `{${capital ? of[0]!.toUpperCase() + of.slice(1) : of}}`,
      }
    }),
  }
}

/**
 * Page and label of a group with a placeholder for each factor, and its factors with the names that the menu gives their members; undefined
 * where the menu does not go by them.
 */
const patternOf = (
  controls: readonly Control[],
  axes: readonly Axis[],
): { menu: string; label: string; axes: Axis[] } | undefined => {
  const texts = controls.map((c) => [...c.path, c.label])
  if (texts.some((t) => t.length !== texts[0]!.length)) return undefined
  const placed: Placed[] = []
  let stride = controls.length
  for (const axis of axes) {
    stride /= axis.members.length
    const found = place(texts, axis, stride)
    if (!found) return undefined
    placed.push(found)
  }
  const pattern = [...texts[0]!]
  for (const f of placed.flatMap((p) => p.at).sort((a, b) => b.start - a.start))
    pattern[f.part] =
      pattern[f.part]!.slice(0, f.start) + f.placeholder + pattern[f.part]!.slice(f.start + f.length)
  return {
    menu: pattern.slice(0, -1).join(' › '),
    label: pattern.at(-1)!,
    axes: placed.map((p) => p.axis),
  }
}

/** A group of controls as one row; undefined where they cannot be told in one. */
const group = (controls: readonly Control[], sheet: ControlSheet, id: string): DraftRow | undefined => {
  const axes = axesOf(controls)
  if (axes.length === 0 || axes.reduce((n, a) => n * a.members.length, 1) !== controls.length)
    return undefined
  const pattern = patternOf(controls, axes)
  if (!pattern) return undefined
  const [first] = controls
  // What the first control is for stays out of what all do.
  const does = axes.some((a) => a.of === 'control')
    ? COLOUR_MANAGEMENT
    : sayDoes({
        role: first!.role,
        ...Object.fromEntries(
          (['channel', 'colour', 'level'] as const).flatMap((of) =>
            first![of] !== undefined && !axes.some((a) => a.of === of) ? [[of, first![of]]] : [],
          ),
        ),
      })
  const row: DraftRow = {
    ...single(first!, sheet, id),
    menu: pattern.menu,
    label: pattern.label,
    does,
    each: pattern.axes.map(sayAxis).join(' × '),
    keys: Object.fromEntries(membersOf(axes).map((m, i) => [memberName(axes, m), controls[i]!.key] as const)),
  }
  // The shortest way to write it that means exactly these controls.
  const short = row.label.toLowerCase() === `{${axes.at(-1)!.of}}` ? { ...row, label: '' } : row
  const shorter = { ...short, menu: short.menu.replace(/ › \{(?:level\} %|[A-Z]\w+\})$/, '') }
  return [shorter, short, row].find((r) => means(r, controls, sheet))
}

/** Whether a row means exactly some controls. What greys them out and defaults by mode are read with the whole sheet only. */
const means = (row: DraftRow, controls: readonly Control[], sheet: ControlSheet): boolean => {
  const plain = (c: Control) => {
    const { needs: _, inMode: __, inHdr: ___, ...rest } = c
    return canonical(rest)
  }
  const [factory] = row.factory.split(';')
  const back = readDraft(sheet.maker, sheet.model, [{ ...row, needs: '', factory: factory! }]).sheet?.controls
  return back !== undefined && JSON.stringify(back.map(plain)) === JSON.stringify(controls.map(plain))
}

const canonical = (value: object): unknown =>
  Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))

const GROUPED = rolesWhere((r) => r.told !== undefined || r.ofColour === true)

/**
 * A control sheet as rows to be changed: neighbours that are alike but for channel, colour or level become one row. Read again, the rows
 * give the same sheet, keys included.
 */
export const rowsOf = (sheet: ControlSheet): DraftRow[] => {
  const rows: DraftRow[] = []
  const id = () => `r${rows.length + 1}`
  for (let i = 0; i < sheet.controls.length; ) {
    const first = sheet.controls[i]!
    const kind = (c: Control) => (COLOUR_ROLES.has(c.role) && c.colour ? 'colour' : c.role)
    const alike = shared(single(first, sheet, 'r'))
    let end = i + 1
    if (GROUPED.has(first.role))
      while (
        end < sheet.controls.length &&
        kind(sheet.controls[end]!) === kind(first) &&
        shared(single(sheet.controls[end]!, sheet, 'r')) === alike
      )
        end++
    let row: DraftRow | undefined
    // The longest run that is one group; the rest is looked at anew.
    for (; end > i + 1 && !row; end--) row = group(sheet.controls.slice(i, end), sheet, id())
    if (row) {
      rows.push(row)
      i += Object.keys(row.keys).length
    } else {
      rows.push(single(first, sheet, id()))
      i++
    }
  }
  return rows
}
