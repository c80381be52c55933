import { D65, deltaUv, type XYZ, xyToXyz, xyzToXy } from '#core/colorimetry'
import type { State } from '#core/display'
import type { GuideDocument } from '#core/guide/document'
import type { GuideReading } from '#core/guide/formats'
import { greyLevel } from '#core/measure'
import { readable } from '#db'
import type { Context } from '../base/context'

/** A reading that a published value rests on. */
export interface BehindReading {
  readonly id: number
  readonly patch: string
  /** cd/m² */
  readonly luminance: number
  readonly x: number
  readonly y: number
  /** Standard error of the luminance, cd/m²; null where it is not known. */
  readonly sigma: number | null
  /** Of greys: distance from D65. */
  readonly deltaUv: number | null
  /** Value of the control as it was read; null where it was not known. */
  readonly value: string | number | null
  readonly meter: string
  readonly takenAt: string
}

/** Most readings of a guide that are given at once: of several cases with every level moved, and more. */
const MOST = 5000

/** Readings of this installation, each with what the display stood at. */
const ownReadings = async (
  { db }: Context,
  ids: readonly number[],
): Promise<Array<Omit<GuideReading, 'state'> & { readonly stateId: number }>> => {
  const rows = readable(
    await db.readings.findAll({
      where: { id: [...ids] },
      attributes: ['id', 'patch', 'x', 'y', 'z', 'sigma', 'stateId', 'meter', 'takenAt'],
      order: ['id'],
    }),
  )
  return rows.flatMap((r) => {
    if (r.x === null || r.y === null || r.z === null) return []
    const xyz: XYZ = [r.x, r.y, r.z]
    const [x, y] = xyzToXy(xyz)
    const level = greyLevel(r.patch)
    return [
      {
        id: r.id,
        patch: r.patch.label,
        level: level ?? null,
        luminance: xyz[1],
        x,
        y,
        sigma: r.sigma?.[1] ?? null,
        deltaUv: level ? deltaUv(xyz, xyToXyz(D65, 1)) : null,
        stateId: r.stateId,
        meter: r.meter,
        takenAt: new Date(r.takenAt).toISOString(),
      },
    ]
  })
}

/** Readings with the state of the display that each was read in: those of this installation, and, by negative ids, those that came in files. */
export const readingsWithStates = async (
  ctx: Context,
  ids: readonly number[],
): Promise<Array<Omit<GuideReading, 'state'> & { readonly values: State }>> => {
  const { db } = ctx
  const wanted = [...new Set(ids)].slice(0, MOST)
  const own = await ownReadings(
    ctx,
    wanted.filter((id) => id > 0),
  )
  const states = new Map(
    readable(await db.states.findAll({ where: { id: [...new Set(own.map((r) => r.stateId))] } })).map((s) => [
      s.id,
      s.values,
    ]),
  )
  const imported = readable(
    await db.importedReadings.findAll({
      where: { id: wanted.flatMap((id) => (id < 0 ? [-id] : [])) },
      order: ['id'],
    }),
  )
  return [
    ...own.map(({ stateId, ...r }) => ({ ...r, values: states.get(stateId) ?? {} })),
    ...imported.map(({ id, document: { state, ...r } }) => ({ ...r, id: -id, values: state })),
  ]
}

const of = async (ctx: Context, ids: readonly number[], control: string): Promise<BehindReading[]> =>
  (await readingsWithStates(ctx, ids)).map(({ values, level: _, ...r }) => ({
    ...r,
    value: values[control] ?? null,
  }))

/** The readings that one value rests on. In: published document; key of the case; control. Out: undefined where the guide has no such value. */
export const readingsBehind = async (
  ctx: Context,
  guide: GuideDocument,
  caseKey: string,
  control: string,
): Promise<readonly BehindReading[] | undefined> => {
  const value = guide.cases
    .find((c) => c.viewingCase.key === caseKey)
    ?.values.find((v) => v.control === control)
  return value && of(ctx, value.readings, control)
}
