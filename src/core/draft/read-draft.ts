import {
  AUTOMATIC_PROCESSING,
  Control,
  type ControlSheet,
  type ControlValue,
  MEASURED_AT_NEUTRAL,
  type Memory,
  type Role,
} from '#core/display'
import { type Axis, type Member, memberName, membersOf, nameOf, readEach } from './across'
import { type Does, isOfColour, readDoes, toldOf } from './does'
import { placeOf, readNeeds, readStored, words } from './draft-words'
import { type Proposal, proposeDoes, proposeFactory, proposeNeutral } from './propose'
import { type DraftField, type DraftRow, isEmptyRow } from './row'
import {
  distinctKeys,
  keyFrom,
  type Read,
  read,
  readValue,
  readValues,
  same,
  unread,
  type Values,
} from './values'

/** What is wrong with a row, at which of its fields. */
export interface RowFault {
  readonly field: DraftField
  readonly why: string
}

/** What a row was taken for. */
export interface ReadRow {
  readonly id: string
  readonly faults: readonly RowFault[]
  readonly proposal: Proposal
  /** Values that stand where nothing was typed: what it does, factory default, neutral. */
  readonly assumed: Readonly<Partial<Record<DraftField, string>>>
  /** How many controls it stands for; 0 while that cannot be told. */
  readonly count: number
  /** The first and the last of a group, as the menu shows them. */
  readonly shown: readonly string[]
}

/** A draft as it was understood: every fault of every row at once, and the sheet where there is none. */
export interface ReadDraft {
  readonly rows: readonly ReadRow[]
  readonly controls: number
  /** Faults in all. */
  readonly faults: number
  /** What a reviewer may have forgotten; nothing that has to be mended. */
  readonly notes: readonly string[]
  readonly sheet?: ControlSheet
}

/** Controls of a sheet at most. */
const MOST_CONTROLS = 400

/** A row while it is read. */
interface Half {
  readonly row: DraftRow
  readonly faults: RowFault[]
  readonly proposal: Proposal
  readonly assumed: Partial<Record<DraftField, string>>
  readonly members: readonly Member[]
  readonly axes: readonly Axis[]
  readonly does: Does | undefined
  readonly values: Values | undefined
  readonly memory: Memory[]
}

const half = (row: DraftRow, before: readonly DraftRow[]): Half => {
  const faults: RowFault[] = []
  const assumed: Partial<Record<DraftField, string>> = {}
  const take = <T>(field: DraftField, result: Read<T>): T | undefined => {
    if (result.ok) return result.value
    faults.push({ field, why: result.why })
    return undefined
  }
  if (words(row.menu, /[›>]|\s\/\s/).length === 0)
    faults.push({ field: 'menu', why: 'Say on which page of the menu it stands.' })
  if (words(row.menu, /[›>]|\s\/\s/).length > 7)
    faults.push({ field: 'menu', why: 'A menu has at most 7 pages on the way.' })
  if (!row.label.trim() && !row.each.trim())
    faults.push({ field: 'label', why: 'Write the label as the menu shows it.' })
  const proposal = row.does.trim() ? {} : proposeDoes(row, before)
  if (proposal.does) assumed.does = proposal.does
  const does =
    proposal.trap && !row.does.trim()
      ? take('does', unread(proposal.trap.question))
      : take('does', readDoes(row.does.trim() || proposal.does || ''))
  const axes = take('each', readEach(row.each, does !== undefined && isOfColour(does.role))) ?? []
  const members = membersOf(axes)
  if (does) faults.push(...untold(does, axes))
  const values = take('values', readValues(row.values, row.choiceKeys))
  const memory = take('stored', readStored(row.stored)) ?? []
  const factory = row.factory.trim() ? '' : proposeFactory(values)
  if (factory) assumed.factory = factory
  const neutral = row.neutral.trim() || !values || !does ? '' : proposeNeutral(does.role, values)
  if (neutral) assumed.neutral = neutral
  return { row, faults, proposal, assumed, members, axes, does, values, memory }
}

/** What a role needs to be told and is not, or is told that it cannot have. */
const untold = (does: Does, axes: readonly Axis[]): RowFault[] => {
  const { role } = does
  if (role === 'colour-management')
    return axes.some((a) => a.of === 'control')
      ? []
      : [{ field: 'each', why: 'Say of what there is one each: “6 colours × hue, saturation, luminance”.' }]
  const need = toldOf(role)
  const has = (of: 'channel' | 'colour' | 'level') => does[of] !== undefined || axes.some((a) => a.of === of)
  const SAID = {
    channel: 'channel (red, green or blue)',
    colour: 'colour',
    level: 'level in percent',
  } as const
  const missing = need.filter((of) => !has(of))
  if (missing.length)
    return [
      { field: 'does', why: `Say for which ${missing.map((of) => SAID[of]).join(' and ')}, after a comma.` },
    ]
  const idle = axes.find(
    ({ of }) => of === 'control' || !(need.includes(of) || (of === 'colour' && isOfColour(role))),
  )
  return idle ? [{ field: 'each', why: `What it does is not for one ${idle.of} each.` }] : []
}

/** A value, and values by mode and in HDR: “50; Film: 45, Game: 60, HDR: 100”. */
const readFactory = (
  text: string,
  values: Values,
  modes: ReadonlyArray<{ value: string; label: string }>,
): Read<{ value: ControlValue; inMode: Record<string, ControlValue>; inHdr?: ControlValue }> => {
  const [first, ...rest] = text.split(';')
  const value = readValue(values, first!)
  if (!value.ok) return value
  const inMode: Record<string, ControlValue> = {}
  let inHdr: ControlValue | undefined
  for (const part of words(rest.join(','), /,/)) {
    const at = part.lastIndexOf(':')
    const name = part.slice(0, Math.max(0, at))
    const mode = modes.find((m) => same(m.label, name))
    const hdr = !mode && same('HDR', name)
    if (at < 0 || !(mode || hdr))
      return unread(
        `“${part}” is not understood: after the semicolon stands a picture mode or HDR, a colon and its value.`,
      )
    const own = readValue(values, part.slice(at + 1))
    if (!own.ok) return own
    if (mode) inMode[mode.value] = own.value
    else inHdr = own.value
  }
  return read({ value: value.value, inMode, ...(inHdr === undefined ? {} : { inHdr }) })
}

/** Said where a control has no value at which it does nothing. */
const NONE = /^(-|–|—|none there|no such)$/i

const roleOf = (does: Does, member: Member): Role =>
  does.role === 'colour-management' ? (member.role ?? 'hue') : does.role

/** Builds the controls of a row that has no fault so far. Adds faults that show only now. */
const controlsOf = (
  { row, faults, assumed, members, axes, does, values, memory }: Half,
  modes: ReadonlyArray<{ value: string; label: string }>,
  taken: Set<string>,
): Control[] => {
  if (!does || !values) return []
  const text = row.factory.trim() || assumed.factory || ''
  const factory = text
    ? readFactory(text, values, modes)
    : unread('Write down the value that it has after a reset.')
  if (!factory.ok) faults.push({ field: 'factory', why: factory.why })
  const typedNeutral = row.neutral.trim()
  const neutralText = NONE.test(typedNeutral) ? '' : typedNeutral || assumed.neutral || ''
  const neutral = neutralText ? readValue(values, neutralText) : undefined
  if (neutral && !neutral.ok) faults.push({ field: 'neutral', why: neutral.why })
  if (!neutral && MEASURED_AT_NEUTRAL.has(does.role as Role))
    faults.push({
      field: 'neutral',
      why: AUTOMATIC_PROCESSING.has(does.role as Role)
        ? 'It changes the picture automatically. Say at which value it is off.'
        : 'Say at which value it is off.',
    })
  if (faults.length || !factory.ok) return []
  const wished = members.map((member) => row.keys[memberName(axes, member)] ?? keyOf(row, axes, does, member))
  const keys = distinctKeys(wished, taken)
  return members.flatMap((member, i) => {
    const { path, label } = placeOf(row, axes, member)
    const { role: _, n: __, named: ___, ...told } = { ...does, ...member }
    const { inMode, inHdr } = factory.value
    const control = Control.safeParse({
      key: keys[i],
      path,
      label,
      role: roleOf(does, member),
      ...told,
      memory,
      ...(row.caution.trim() ? { caution: row.caution.trim() } : {}),
      ...values,
      default: factory.value.value,
      ...(Object.keys(inMode).length ? { inMode } : {}),
      ...(inHdr === undefined ? {} : { inHdr }),
      ...(neutral?.ok ? { neutral: neutral.value } : {}),
    })
    if (control.success) return [control.data]
    const [first] = control.error.issues
    const field = { path: 'menu', label: 'label', caution: 'caution' }[String(first?.path[0])] ?? 'values'
    if (!faults.length)
      faults.push({ field: field as DraftField, why: `${first?.message ?? 'It is not understood'}.` })
    return []
  })
}

const keyOf = (row: DraftRow, axes: readonly Axis[], does: Does, member: Member): string => {
  if (!axes.length) return keyFrom(row.label, does.role)
  const names = axes.map(({ of }) => nameOf(member, of).replace(' %', '').replace('.', '-'))
  return keyFrom(`${does.role} ${names.join(' ')}`, does.role)
}

/**
 * Reads a draft: what each row means, everything that is wrong with it, and the control sheet where nothing is. Rows that nothing was typed
 * into are left out. In: maker, model; rows in menu order.
 */
export const readDraft = (maker: string, model: string, rows: readonly DraftRow[]): ReadDraft => {
  const halves = rows.map((row, i) => half(row, rows.slice(0, i)))
  const filled = halves.filter(({ row }) => !isEmptyRow(row))
  const mode = filled.find(({ does }) => does?.role === 'picture-mode')
  const modes = mode?.values?.kind === 'choice' ? mode.values.choices : []
  const taken = new Set<string>()
  const built = new Map(filled.map((h) => [h.row.id, controlsOf(h, modes, taken)] as const))
  const all = filled.flatMap(({ row }) => built.get(row.id)!)
  for (const h of filled) {
    // What greys a row out may stand below it: it is looked up once all rows are there.
    if (!h.row.needs.trim()) continue
    const needs = readNeeds(h.row.needs, all)
    if (!needs.ok) h.faults.push({ field: 'needs', why: needs.why })
    else
      built.set(
        h.row.id,
        built.get(h.row.id)!.map((c) => ({ ...c, needs: needs.value })),
      )
  }
  const controls = filled.flatMap(({ row }) => built.get(row.id)!)
  doubles(filled, built)
  const many = filled.reduce((sum, { members }) => sum + members.length, 0)
  if (many > MOST_CONTROLS)
    filled.at(-1)?.faults.push({
      field: 'each',
      why: `A sheet has at most ${MOST_CONTROLS} controls; these are ${many}.`,
    })
  const faults = filled.reduce((sum, h) => sum + h.faults.length, 0)
  return {
    rows: halves.map((h): ReadRow => {
      const own = built.get(h.row.id) ?? []
      const { row, axes, members } = h
      const shown = axes.length
        ? [members[0]!, members.at(-1)!].map((m) => sayPlace(placeOf(row, axes, m)))
        : []
      return {
        id: row.id,
        faults: isEmptyRow(row) ? [] : h.faults,
        proposal: h.proposal,
        assumed: h.assumed,
        count: own.length || (isEmptyRow(row) ? 0 : members.length),
        shown,
      }
    }),
    controls: many,
    faults,
    notes: notesOf(filled, many),
    ...(faults === 0 && controls.length
      ? { sheet: { format: 'wexmar-control-sheet/2', maker, model, controls } }
      : {}),
  }
}

const sayPlace = ({ path, label }: { path: readonly string[]; label: string }): string =>
  [...path, label].join(' › ')

/** Rows that say the same as one before them. */
const doubles = (filled: readonly Half[], built: ReadonlyMap<string, readonly Control[]>): void => {
  const [places, jobs] = [new Map<string, string>(), new Map<string, string>()]
  for (const { row, faults } of filled)
    for (const c of built.get(row.id) ?? []) {
      const place = sayPlace(c).toLowerCase()
      const job = ['gain', 'cut', 'level-white', 'level-tone', 'colour-amount'].includes(c.role)
        ? [c.role, c.channel, c.colour, c.level].join()
        : ''
      if (faults.length === 0 && places.has(place))
        faults.push({ field: 'label', why: `“${sayPlace(c)}” stands twice.` })
      else if (faults.length === 0 && job && jobs.has(job))
        faults.push({ field: 'does', why: `“${jobs.get(job)}” does the same already.` })
      places.set(place, sayPlace(c))
      if (job) jobs.set(job, sayPlace(c))
    }
}

/** What is usually there and is not. */
const notesOf = (filled: readonly Half[], controls: number): string[] => {
  if (controls === 0) return []
  const has = (...roles: ReadonlyArray<Does['role']>) =>
    filled.some(({ does }) => does && roles.includes(does.role))
  return [
    ...(has('picture-mode')
      ? []
      : ['No picture mode is entered. Most displays have some; what is stored with a mode needs them.']),
    ...(has('peak-luminance', 'white-level') ? [] : ['No control of luminance is entered.']),
    ...(has('gain') || has('white-preset') ? [] : ['No control of white balance is entered.']),
    ...(has('ambient-light', 'power-saving')
      ? []
      : [
          'No ambient light sensor and no power saving is entered. Look for them outside the picture menu: they change what is measured.',
        ]),
  ]
}
