import { z } from 'zod'
import { xyToXyz } from '#core/colorimetry'
import { State } from '#core/display'
import { CaseDocument, GuideDocument } from '#core/guide/document'
import { judgeGreyScale, ViewingCase } from '#core/judge'
import { ASSUMED_PRECISION } from '#core/measure'
import { isTone, toneFrom } from '#core/target'

/** Name and version of the format in which a guide leaves an installation with its readings. */
export const GUIDE_FILE = 'wexmar-guide-file/1'

const whole = z.number().int()

/** A reading that a guide rests on, as a file of it holds it. */
export const GuideReading = z.object({
  id: whole,
  /** Label of the patch. */
  patch: z.string().max(200),
  /** Level of a grey, 0…1; null for colours. */
  level: z.number().min(0).max(1).nullable(),
  /** cd/m² */
  luminance: z.number().nonnegative().max(1e6),
  x: z.number().min(0).max(1),
  y: z.number().min(0).max(1),
  /** Standard error of the luminance, cd/m²; null where it is not known. */
  sigma: z.number().nonnegative().nullable(),
  /** Of greys: distance from D65 in u′v′. */
  deltaUv: z.number().nullable(),
  /** Values of the display as it was read: id of a state of the file. */
  state: whole,
  meter: z.string().max(400),
  takenAt: z.string().max(40),
})
export type GuideReading = z.infer<typeof GuideReading>

/** A state of the display: all of it, or what of another differs. */
const FileState = z.object({ id: whole, of: whole.optional(), values: State })
export type FileState = z.infer<typeof FileState>

const named = (most: number) => z.string().min(1).max(most)
const FileCase = CaseDocument.extend({
  display: CaseDocument.shape.display.extend({
    region: z.string().max(40),
    unit: z.string().max(80),
    serial: named(120),
    firmware: named(120),
  }),
  viewingCase: z.object({
    key: z.string().refine((key) => ViewingCase.safeParse(key).success, 'is no viewing case'),
    label: named(120),
  }),
})

/** A published guide as a file: the document with what it rests on. */
export const GuideFile = GuideDocument.extend({
  // A stranger's file: names are no longer than they can be kept, cases are known ones.
  display: z.object({ maker: named(80), model: named(80), sizeInch: z.number().positive().max(1_000) }),
  cases: z.array(FileCase).min(1).max(ViewingCase.options.length),
  file: z.literal(GUIDE_FILE),
  slug: z.string().max(120),
  revision: whole.positive(),
  publishedAt: z.string().max(40),
  /** SHA-256 of the document, its keys in order, in hexadecimal. */
  digest: z.string().regex(/^[0-9a-f]{64}$/),
  readings: z.array(GuideReading).max(20_000),
  states: z.array(FileState).max(5_000),
})
export type GuideFile = z.infer<typeof GuideFile>

/** States of a file by id, each whole. One that hangs on a state that is not there, or on itself, is left out. */
export const statesOf = (states: readonly FileState[]): ReadonlyMap<number, State> => {
  const whole = new Map(states.flatMap((s) => (s.of === undefined ? [[s.id, s.values] as const] : [])))
  return new Map([
    ...whole,
    ...states.flatMap((s) => {
      const base = s.of === undefined ? undefined : whole.get(s.of)
      return base ? [[s.id, { ...base, ...s.values }] as const] : []
    }),
  ])
}

/** By how much figures of a file may differ from what its readings come to: they are rounded in neither, so only by the arithmetic of another version. */
const SAME = { share: 0.005, error: 0.02 } as const

const figuresDiffer = (
  of: CaseDocument,
  greys: ReadonlyArray<{ level: number; luminance: number; x: number; y: number }>,
) => {
  const { after } = of
  const { whitePoint, toneKey } = of.targets
  if (!after) return []
  if (!whitePoint || !toneKey || !isTone(toneKey)) return ['what it aimed at is not said']
  const judged = judgeGreyScale(
    greys.map(({ level, luminance, x, y }) => ({ level, xyz: xyToXyz([x, y], luminance) })),
    { white: whitePoint, tone: toneFrom(toneKey) },
    ASSUMED_PRECISION,
  )
  if (!judged) return ['its verification has no white']
  const near = (a: number, b: number, most: number) => Math.abs(a - b) <= most
  return [
    ...(near(judged.white.luminance, after.luminance, SAME.share * after.luminance)
      ? []
      : [`white comes to ${judged.white.luminance.toFixed(1)} cd/m², not ${after.luminance.toFixed(1)}`]),
    ...(near(judged.whiteError.average, after.whiteError.average, SAME.error) &&
    near(judged.whiteError.worst, after.whiteError.worst, SAME.error)
      ? []
      : [
          `the error of greys comes to ${judged.whiteError.average.toFixed(2)}, not ${after.whiteError.average.toFixed(2)}`,
        ]),
  ]
}

/** Whether a case says nothing that only a meter tells. */
const claimsNothing = (of: CaseDocument): boolean =>
  !of.before &&
  !of.after &&
  !of.hdr &&
  !of.play &&
  !of.recheck &&
  of.method.readings === 0 &&
  ![of.bought, of.copying, of.room, of.worse].some((list) => list?.length)

/**
 * Whether what a guide says follows from the readings that its file brings: every reading that it names is there, its values are those that the final sweep was
 * read with, and its figures come out of that sweep. In: file. Out: what does not, in sentences; none where all does.
 */
export const whatDoesNotFollow = ({ cases, readings, states }: GuideFile): string[] => {
  const byId = new Map(readings.map((r) => [r.id, r]))
  const stateOf = statesOf(states)
  return cases.flatMap((of) => {
    const { label } = of.viewingCase
    const named = [...of.values.flatMap((v) => v.readings), ...(of.verification ?? [])]
    const missing = named.filter((id) => !byId.has(id)).length
    if (missing) return [`${label}: ${missing} of its readings are not in the file.`]
    // What was set by eye claims nothing that could follow.
    if (claimsNothing(of) && named.length === 0) return []
    const final = (of.verification ?? []).map((id) => byId.get(id)!)
    if (final.length === 0) return [`${label}: the readings of its final sweep are not in the file.`]
    const other = of.values.find(
      (v) =>
        !v.withheld &&
        v.origin !== 'not-measured' &&
        final.some((reading) => stateOf.get(reading.state)?.[v.control] !== v.value),
    )
    if (other) return [`${label}: “${other.label}” stood elsewhere in the final sweep than the guide says.`]
    return figuresDiffer(
      of,
      final.flatMap((r) => (r.level === null ? [] : [{ ...r, level: r.level }])),
    ).map((what) => `${label}: ${what}.`)
  })
}

/** Format and version that a file says it is of; undefined where it says nothing that can be understood. */
export const fileVersion = (
  value: unknown,
): { readonly name: string; readonly version: number } | undefined => {
  const said = typeof value === 'object' && value !== null ? (value as { file?: unknown }).file : undefined
  const [, name, version] = /^([a-z-]{1,40})\/(\d{1,6})$/.exec(typeof said === 'string' ? said : '') ?? []
  return name && version ? { name, version: Number(version) } : undefined
}
