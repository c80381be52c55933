import { type ControlSheet, showValue } from '#core/display'
import type { InputsEntry, SocketEntry } from '#core/entry'
import { slugOf } from '#core/guide/compose'
import {
  type Arrival,
  DisplayInputs,
  type GivenUp,
  giveUp,
  type LinkKey,
  type LinkRow,
  type LinkUse,
  linkTable,
  planLink,
  type Range,
  type SignalPath,
  type Socket,
  SourceDevice,
  type Wish,
} from '#core/signal'
import { inTransaction, readable } from '#db'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'

/** A source by its number. */
export interface SourceView {
  readonly id: number
  readonly source: SourceDevice
}

/** What a model takes, and the values of its menu that sockets may hang on. */
export interface InputsView {
  readonly maker: string
  readonly name: string
  readonly slug: string
  readonly inputs: DisplayInputs | null
  readonly unlocks: ReadonlyArray<{ readonly value: string; readonly label: string }>
  readonly labels: ReadonlyArray<{ readonly value: string; readonly label: string }>
}

/** What is asked of the planner. */
export interface PlannerWish {
  readonly model: string
  readonly socket: string
  readonly source: number | undefined
  readonly cable: LinkKey
  readonly use: LinkUse
  readonly range: Range
  readonly unlocked: boolean
  readonly labelled: boolean
  /** One cell of the table, to see its reckoning. */
  readonly cell?: Pick<Wish, 'width' | 'height' | 'rate' | 'bitDepth' | 'chroma'>
}

export interface PlannerView {
  readonly models: ReadonlyArray<{ readonly slug: string; readonly name: string }>
  readonly sources: readonly SourceView[]
  readonly sockets: readonly Socket[]
  /** What was taken of the wish. */
  readonly chosen: { readonly model: string; readonly socket: string; readonly source: number | null }
  readonly socket: Socket | null
  /** In words: what has to be set in the display’s menu. */
  readonly settings: readonly string[]
  readonly rows: readonly LinkRow[]
  readonly cell: {
    readonly wish: Wish
    readonly arrives: Arrival | null
    readonly troubles: readonly string[]
    readonly steps: ReadonlyArray<{ readonly what: string; readonly how: string; readonly value: string }>
    readonly giveUp: readonly GivenUp[]
  } | null
}

/** All sources, the newest last. What was kept by another version and does not fit is left out. */
export const listSources = async ({ db }: Context): Promise<SourceView[]> =>
  readable(await db.sources.findAll({ where: { removedAt: null }, order: ['id'] })).map(
    ({ id, document }) => ({ id, source: document }),
  )

export const addSource = async ({ db }: Context, source: SourceDevice): Promise<Result<number>> => {
  const checked = SourceDevice.safeParse(source)
  if (!checked.success)
    return bad(`${checked.error.issues[0]?.message ?? 'Something does not fit.'} Nothing was added.`)
  if (await db.sources.findOne({ where: { name: source.name, removedAt: null } }))
    return bad(`A source named ${source.name} is here already. Nothing was added.`, 'name')
  const row = await db.sources.create({ name: source.name, document: checked.data, removedAt: null })
  return good(row.id)
}

/** Takes a source off the list; what was planned with it stays. */
export const removeSource = async ({ db }: Context, id: number): Promise<Result<null>> => {
  const [count] = await db.sources.update({ removedAt: new Date() }, { where: { id, removedAt: null } })
  return count ? good(null) : bad('There is no such source.')
}

const newestSheet = async ({ db }: Context, modelId: number): Promise<ControlSheet | undefined> =>
  (await db.sheets.findOne({ where: { modelId }, order: [['version', 'DESC']] }))?.document

const valuesOf = (sheet: ControlSheet | undefined, role: 'socket-format' | 'input-label') =>
  (sheet?.controls ?? []).flatMap((c) =>
    c.role === role && c.kind === 'choice'
      ? c.choices.map((choice) => ({
          value: `${c.key}=${choice.value}`,
          label: `“${c.label}” at ${choice.label}`,
        }))
      : [],
  )

const inputsOf = (kept: unknown): DisplayInputs | null => DisplayInputs.safeParse(kept).data ?? null

/** What is known of a model's sockets; undefined where there is no such model. */
export const inputsView = async (ctx: Context, slug: string): Promise<InputsView | undefined> => {
  const model = await ctx.db.models.findOne({ where: { slug } })
  if (!model) return undefined
  const sheet = await newestSheet(ctx, model.id)
  return {
    maker: model.maker,
    name: model.name,
    slug,
    inputs: inputsOf(model.inputs),
    unlocks: valuesOf(sheet, 'socket-format'),
    labels: valuesOf(sheet, 'input-label'),
  }
}

/** Changes what a model takes, one change at a time, so that two desks lose nothing. */
const changeInputs = (
  { db }: Context,
  slug: string,
  change: (inputs: DisplayInputs | null) => Result<DisplayInputs>,
): Promise<Result<null>> =>
  inTransaction(db, async (transaction) => {
    const model = await db.models.findOne({ where: { slug }, transaction, lock: true })
    if (!model) return bad('There is no such model.')
    const changed = change(inputsOf(model.inputs))
    if (!changed.ok) return changed
    const checked = DisplayInputs.safeParse(changed.value)
    if (!checked.success)
      return bad(`${checked.error.issues[0]?.message ?? 'Something does not fit.'} Nothing was changed.`)
    await db.models.update({ inputs: checked.data }, { where: { id: model.id }, transaction })
    return good(null)
  })

/** Keeps the pictures that a model takes; its sockets stay, and the first is made where there is none. */
export const saveInputs = (ctx: Context, slug: string, entry: InputsEntry): Promise<Result<null>> =>
  changeInputs(ctx, slug, (inputs) =>
    good({ sockets: inputs?.sockets ?? [{ key: 'input-1', label: 'Input 1', link: 'tmds-18' }], ...entry }),
  )

/** Adds a socket, or changes the one with the same label. */
export const saveSocket = (ctx: Context, slug: string, entry: SocketEntry): Promise<Result<null>> =>
  changeInputs(ctx, slug, (inputs) => {
    if (!inputs) return bad('Say first which pictures the display takes. Nothing was added.')
    const { shares, ...socket } = entry
    const labelled = (label: string) =>
      inputs.sockets.find((s) => s.label.toLowerCase() === label.toLowerCase())
    const known = labelled(socket.label)
    const unknown = shares.find((label) => labelled(label) === undefined)
    if (unknown !== undefined)
      return bad(`There is no socket “${unknown}” here. Nothing was changed.`, 'shares')
    const sharesWith = shares.map((label) => labelled(label)!.key).filter((key) => key !== known?.key)
    const free = (n: number): string => {
      const name =
        slugOf(socket.label)
          .replace(/^[^a-z]+/, '')
          .slice(0, 50) || 'input'
      const key = n > 1 ? `${name}-${n}` : name
      return inputs.sockets.some((s) => s.key === key) ? free(n + 1) : key
    }
    const saved: Socket = {
      ...socket,
      key: known?.key ?? free(1),
      ...(sharesWith.length ? { sharesWith } : {}),
    }
    return good({
      ...inputs,
      sockets: known ? inputs.sockets.map((s) => (s === known ? saved : s)) : [...inputs.sockets, saved],
    })
  })

export const removeSocket = (ctx: Context, slug: string, key: string): Promise<Result<null>> =>
  changeInputs(ctx, slug, (inputs) => {
    const left = inputs?.sockets.filter((s) => s.key !== key) ?? []
    if (!inputs || left.length === inputs.sockets.length) return bad('There is no such socket.')
    if (left.length === 0) return bad('A display has a socket at least. Change it instead.')
    return good({
      ...inputs,
      sockets: left.map(({ sharesWith, ...s }) => {
        const others = sharesWith?.filter((k) => k !== key)
        return others?.length ? { ...s, sharesWith: others } : s
      }),
    })
  })

/** The link planner for a source on a socket: what arrives at each rate, and the reckoning of one cell. */
export const plannerView = async (ctx: Context, wish: PlannerWish): Promise<PlannerView> => {
  const rows = await ctx.db.models.findAll({ order: ['maker', 'name'], limit: 500 })
  const planned = rows.filter((m) => inputsOf(m.inputs) !== null)
  const sources = await listSources(ctx)
  const model = planned.find((m) => m.slug === wish.model) ?? planned[0]
  const inputs = model ? inputsOf(model.inputs) : null
  const socket = inputs?.sockets.find((s) => s.key === wish.socket) ?? inputs?.sockets[0] ?? null
  const source = sources.find((s) => s.id === wish.source) ?? sources[0]
  const base = {
    models: planned.map((m) => ({ slug: m.slug, name: `${m.maker} ${m.name}` })),
    sources,
    sockets: inputs?.sockets ?? [],
    chosen: { model: model?.slug ?? '', socket: socket?.key ?? '', source: source?.id ?? null },
    socket,
  }
  if (!inputs || !socket || !source || !model) return { ...base, settings: [], rows: [], cell: null }
  const sheet = await newestSheet(ctx, model.id)
  const path: SignalPath = {
    source: source.source,
    cable: wish.cable,
    inputs,
    socket,
    unlocked: wish.unlocked,
    labelled: wish.labelled,
  }
  // Either of two may say that they share.
  const sharing = inputs.sockets.filter(
    (s) => s === socket || socket.sharesWith?.includes(s.key) || s.sharesWith?.includes(socket.key),
  )
  const menu = (at: { control: string; value: string }) => {
    const control = sheet?.controls.find((c) => c.key === at.control)
    return control
      ? `${[...control.path, control.label].join(' › ')}: ${showValue(control, at.value)}`
      : `${at.control}: ${at.value}`
  }
  const variableWish = (one: NonNullable<PlannerWish['cell']>): Wish => {
    const plain: Wish = { ...one, range: wish.range, variableRefresh: false }
    const varying: Wish = { ...plain, variableRefresh: true }
    return planLink(path, varying).arrives ? varying : plain
  }
  const cell = wish.cell && variableWish(wish.cell)
  const verdict = cell && planLink(path, cell)
  return {
    ...base,
    settings: [
      ...(socket.unlock ? [`Full rate of this socket: ${menu(socket.unlock)}.`] : []),
      ...(socket.fullChroma ? [`Full chroma for a computer: ${menu(socket.fullChroma)}.`] : []),
      ...(socket.soundSystem ? ['This socket is also the sound system’s.'] : []),
      ...(sharing.length > 1
        ? [`Only one of these does its full rate at a time: ${sharing.map((s) => s.label).join(', ')}.`]
        : []),
      ...(socket.note ? [socket.note] : []),
    ],
    rows: linkTable(path, wish.use, wish.range),
    cell:
      cell && verdict
        ? {
            wish: cell,
            arrives: verdict.arrives ?? null,
            troubles: verdict.troubles,
            steps: verdict.load.steps(),
            giveUp: giveUp(path, cell, wish.use),
          }
        : null,
  }
}
