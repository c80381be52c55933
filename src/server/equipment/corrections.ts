import type { XYZ } from '#core/colorimetry'
import type { CorrectionEntry } from '#core/entry'
import { correctionEffect, type FourColours, fourColourMatrix, parseTyped } from '#core/measure'
import type { Context } from '../base/context'
import { bad, good, type Result } from '../base/result'
import { loadSession, xyzOf } from '../session/record'

const NAMES = ['red', 'green', 'blue', 'white'] as const
type Name = (typeof NAMES)[number]
const PATCH: Readonly<Record<Name, string>> = { red: 'red', green: 'green', blue: 'blue', white: 'grey-100' }

export interface CorrectionSource {
  readonly display: string
  readonly panelKind: string
  readonly unitId: number
  readonly meter: string
  /** The meter's own newest readings of the four colours in the present state, as they came; empty where missing. */
  readonly readings: Readonly<Record<Name, string>>
  /** Slot that they were read with. */
  readonly slot: string | null
  readonly simulated: boolean
}

/** What a four-colour correction can begin from: the newest readings of a session, before any correction of Wexmar's. */
export const correctionSource = async (
  ctx: Context,
  sessionId: number,
): Promise<CorrectionSource | undefined> => {
  const record = await loadSession(ctx, sessionId)
  if (!record) return undefined
  const newest = (name: Name) =>
    record.readings.findLast(
      (r) => r.patchKey === PATCH[name] && r.fault === null && r.stateId === record.session.stateId,
    )
  const white = newest('white')
  const text = (name: Name) => {
    const r = newest(name)
    return r ? (r.uncorrected ?? xyzOf(r)).map((v) => v.toPrecision(6)).join('  ') : ''
  }
  const simulation = await ctx.bench.simulation()
  return {
    display: `${record.model.maker} ${record.model.name} ${record.variant.sizeInch}`,
    panelKind: record.model.panelKind,
    unitId: record.unit.id,
    meter: white?.meter ?? record.session.meterName,
    readings: { red: text('red'), green: text('green'), blue: text('blue'), white: text('white') },
    slot: white?.meterSlot ?? null,
    simulated: simulation.ok,
  }
}

export interface CorrectionResult {
  readonly matrix: readonly (readonly number[])[]
  readonly effect: ReturnType<typeof correctionEffect>
  /** Id, where it was kept. */
  readonly id?: number
}

/**
 * Makes a four-colour correction and, where asked, keeps it and reads the session with it from now on.
 * Out: matrix with before and after, or a sentence with the field that is wrong.
 */
export const makeCorrection = async (
  ctx: Context,
  wish: CorrectionEntry,
  keep: boolean,
): Promise<Result<CorrectionResult>> => {
  const pairs: Partial<Record<Name, { meter: XYZ; reference: XYZ }>> = {}
  for (const name of NAMES) {
    const pair: Partial<Record<'meter' | 'reference', XYZ>> = {}
    for (const side of ['meter', 'reference'] as const) {
      const typed = parseTyped(wish.colours[name][side], side === 'meter' ? 'XYZ' : wish.form)
      if (!typed.ok)
        return bad(`${name}, ${side}: ${typed.why} Nothing was saved.`, `colours.${name}.${side}`)
      pair[side] = typed.values[0]!
    }
    pairs[name] = { meter: pair.meter!, reference: pair.reference! }
  }
  const colours = pairs as FourColours
  const matrix = fourColourMatrix(colours)
  if (!matrix)
    return bad(
      'The four colours do not span a correction: one of them is black, or three lie on one line. Look whether a patch was read twice. Nothing was saved.',
    )
  const effect = correctionEffect(colours, matrix)
  if (!keep) return good({ matrix, effect })
  const record = await loadSession(ctx, wish.sessionId)
  if (!record) return bad('There is no such session. Nothing was saved.')
  const row = await ctx.db.corrections.create({
    name: wish.name,
    meter: wish.meter,
    reference: wish.reference,
    panelKind: record.model.panelKind,
    unitId: record.unit.id,
    colours,
    matrix,
  })
  await ctx.db.sessions.update({ correctionId: row.id }, { where: { id: wish.sessionId } })
  await ctx.db.sessions.increment('revision', { where: { id: wish.sessionId } })
  return good({ matrix, effect, id: row.id })
}

/** What a perfect instrument would read of the four colours on a simulated bench. Out: XYZ as text by colour. */
export const simulatedReference = async (ctx: Context): Promise<Result<Record<Name, string>>> => {
  const patches: Readonly<Record<Name, readonly [number, number, number]>> = {
    red: [1, 0, 0],
    green: [0, 1, 0],
    blue: [0, 0, 1],
    white: [1, 1, 1],
  }
  const out: Partial<Record<Name, string>> = {}
  for (const name of NAMES) {
    const shown = await ctx.bench.show({ key: 'reference', label: name, signal: [...patches[name]] })
    if (!shown.ok) return bad(shown.failure.message)
    const light = await ctx.bench.trueLight()
    if (!light.ok) return bad(light.failure.message)
    out[name] = light.value.xyz.map((v) => v.toPrecision(6)).join('  ')
  }
  return good(out as Record<Name, string>)
}
