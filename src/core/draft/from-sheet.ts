import type { Control, ControlSheet } from '#core/display'
import { type Axis, type Member, memberName, membersOf, nameOf, sayAxis } from './across'
import { COLOUR_MANAGEMENT, sayDoes } from './does'
import { proposeNeutral } from './propose'
import { readDraft, sayStored } from './read-draft'
import type { DraftRow } from './row'
import { sayValues } from './values'

const labelOf = (control: Control, value: unknown): string =>
  control.kind === 'choice' ? (control.choices.find((c) => c.value === value)?.label ?? '') : String(value)

const factoryText = (control: Control, sheet: ControlSheet): string => {
  const mode = sheet.controls.find((c) => c.role === 'picture-mode')
  const inMode = Object.entries(control.inMode ?? {}).flatMap(([key, value]) =>
    mode ? [`${labelOf(mode, key) || key}: ${labelOf(control, value)}`] : [],
  )
  return [labelOf(control, control.default), ...(inMode.length ? [inMode.join(', ')] : [])].join('; ')
}

const SIGNAL = { sdr: 'SDR', pq: 'PQ', hlg: 'HLG' } as const

const needsText = (control: Control, sheet: ControlSheet): string =>
  (control.needs ?? [])
    .map((need) => {
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

const COLOUR_ROLES: ReadonlySet<string> = new Set(['hue', 'saturation', 'colour-luminance'])

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

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** A label with what tells its member apart put as a placeholder. */
const patternOf = (text: string, member: Member, axes: readonly Axis[]): string =>
  axes.reduce((pattern, { of }) => {
    const name = nameOf(member, of).replace(' %', '')
    const found = new RegExp(`(?<![\\w.{])${escaped(name)}(?![\\w.}])`, 'i').exec(pattern)
    if (!found) return pattern
    const capital = /^[A-Z]/.test(found[0])
    const placeholder = capital ? `${of[0]!.toUpperCase()}${of.slice(1)}` : of
    return pattern.replace(found[0], `{${placeholder}}`)
  }, text)

/** A group of controls as one row; undefined where they cannot be told in one. */
const group = (controls: readonly Control[], sheet: ControlSheet, id: string): DraftRow | undefined => {
  const axes = axesOf(controls)
  if (axes.length === 0 || axes.reduce((n, a) => n * a.members.length, 1) !== controls.length)
    return undefined
  const [first] = controls
  const own = single(first!, sheet, id)
  for (const named of [axes, withLabels(controls, axes)]) {
    const row = named && groupOf(controls, sheet, own, named)
    if (row) return row
  }
  return undefined
}

/** Factors of which the last has the menu's own labels for names; undefined where labels do not go by it. */
const withLabels = (controls: readonly Control[], axes: readonly Axis[]): Axis[] | undefined => {
  const last = axes.at(-1)!
  const n = last.members.length
  if (controls.some((c, i) => c.label !== controls[i % n]!.label)) return undefined
  const members = last.members.map((m, i) => ({ ...m, named: { [last.of]: controls[i]!.label } }))
  return [...axes.slice(0, -1), { of: last.of, members }]
}

/** Controls as one row with the factors given; undefined where that row would mean something else. */
const groupOf = (
  controls: readonly Control[],
  sheet: ControlSheet,
  own: DraftRow,
  axes: readonly Axis[],
): DraftRow | undefined => {
  const [first] = controls
  const member: Member = {
    ...(first!.channel ? { channel: first!.channel } : {}),
    ...(first!.colour ? { colour: first!.colour } : {}),
    ...(first!.level === undefined ? {} : { level: first!.level }),
    role: first!.role,
    n: 1,
  }
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
    ...own,
    menu: patternOf(own.menu, member, axes),
    label: axes.at(-1)!.members[0]!.named ? '' : patternOf(own.label, member, axes),
    does,
    each: axes.map(sayAxis).join(' × '),
    keys: Object.fromEntries(membersOf(axes).map((m, i) => [memberName(axes, m), controls[i]!.key] as const)),
  }
  // Only where the row means exactly these controls is it one row.
  const back = readDraft(sheet.maker, sheet.model, [{ ...row, needs: '' }]).sheet?.controls
  const wanted = controls.map(({ needs: _, inMode: __, ...c }) => canonical(c))
  return back && JSON.stringify(back.map(({ inMode: _, ...c }) => canonical(c))) === JSON.stringify(wanted)
    ? row
    : undefined
}

const canonical = (value: object): unknown =>
  Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))

const GROUPED: ReadonlySet<string> = new Set([
  'gain',
  'cut',
  'level-white',
  'level-tone',
  'colour-amount',
  ...COLOUR_ROLES,
])

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
