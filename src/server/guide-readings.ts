import { D65, deltaUv, type XYZ, xyToXyz, xyzToXy } from '#core/colorimetry'
import type { GuideDocument } from '#core/guide'
import { greyLevel } from '#core/measure'
import type { Context } from './context'

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

const of = async (
  { db }: Context,
  ids: readonly number[],
  control: string | undefined,
): Promise<BehindReading[]> => {
  const rows = await db.readings.findAll({
    where: { id: [...new Set(ids)].slice(0, MOST) },
    attributes: ['id', 'patch', 'x', 'y', 'z', 'sigma', 'stateId', 'meter', 'takenAt'],
    order: ['id'],
  })
  const states = new Map(
    control === undefined
      ? []
      : (await db.states.findAll({ where: { id: rows.map((r) => r.stateId) } })).map((s) => [s.id, s.values]),
  )
  return rows.flatMap((r) => {
    if (r.x === null || r.y === null || r.z === null) return []
    const xyz: XYZ = [r.x, r.y, r.z]
    const [x, y] = xyzToXy(xyz)
    return [
      {
        id: r.id,
        patch: r.patch.label,
        luminance: xyz[1],
        x,
        y,
        sigma: r.sigma?.[1] ?? null,
        deltaUv: greyLevel(r.patch) ? deltaUv(xyz, xyToXyz(D65, 1)) : null,
        value: control === undefined ? null : (states.get(r.stateId)?.[control] ?? null),
        meter: r.meter,
        takenAt: new Date(r.takenAt).toISOString(),
      },
    ]
  })
}

/** Every reading that values of a guide rest on, each once. In: published document. Out: in the order in which they were taken. */
export const readingsOfGuide = (ctx: Context, guide: GuideDocument): Promise<BehindReading[]> =>
  of(
    ctx,
    guide.cases.flatMap((c) => c.values.flatMap((v) => v.readings)),
    undefined,
  )

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
