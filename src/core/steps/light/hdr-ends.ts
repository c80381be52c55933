import { deltaEItp, pqInverseEotf, xyToXyz } from '#core/colorimetry'
import type { NumberControl } from '#core/display'
import { type Patch, PQ_PEAK, pqGrey, pqTargetOf, readingSigma } from '#core/measure'
import { reachOf, shown, valueAt } from '#core/model'
import { defineStep, done, hdrCases, open, type StepPlan } from '../contract'
import type { Adjustment } from '../facts/adjustment'
import type { StepContext } from '../facts/context'
import { differsIn, type RouteFacts, type RouteReading } from '../facts/facts'
import { casePeakOf, mappingGreys } from '../facts/hdr-reference'
import { ENDS } from '../rests-on'
import { HDR_BLACK, HDR_WHITE } from '../tuning'
import { BUT_WHITE } from './near-ends'

/** The newest readings of some patches with a value of a control, all that an end rests on as now; undefined where one is missing. */
const readWith = (
  facts: RouteFacts,
  control: NumberControl,
  value: number,
  patches: readonly Patch[],
): RouteReading[] | undefined => {
  const own = patches.flatMap(
    (p) =>
      facts.readings.findLast(
        (r) =>
          r.patch.key === p.key &&
          r.purpose === 'adjust' &&
          Number(r.state[control.key]) === value &&
          differsIn(facts, BUT_WHITE, r.state, facts.state).length === 0,
      ) ?? [],
  )
  return own.length === patches.length ? own : undefined
}

/** Values of a control under which patches were read whole, in the order in which they were tried. */
const valuesTried = (
  facts: RouteFacts,
  control: NumberControl,
  patches: readonly Patch[],
): Array<{ value: number; readings: RouteReading[] }> => {
  const values = new Set(facts.readings.map((r) => Number(r.state[control.key])))
  return [...values].flatMap((value) => {
    const readings = readWith(facts, control, value, patches)
    return readings ? [{ value, readings }] : []
  })
}

const moved = (
  control: NumberControl,
  from: number,
  to: number,
  reads: readonly Patch[],
  purpose: string,
): StepPlan => {
  const adjustment: Adjustment = {
    changes: from === to ? [] : [{ control: control.key, from, to }],
    reads,
    purpose,
    predictions: [],
  }
  return open({ kind: 'adjust', adjustment })
}

/**
 * White level of an HDR picture: at its maximum where that brings the highlights more light and leaves greys below them on PQ; else where it was.
 */
const planHdrWhiteLevel = ({ facts, byRole, movable }: StepContext): StepPlan | undefined => {
  const control = byRole.whiteLevel
  const peak = casePeakOf(facts)
  if (!control || !peak) return undefined
  const [low, middle] = mappingGreys(peak)
  const patches = [PQ_PEAK, low, middle]
  const now = Number(facts.state[control.key])
  if (patches.some((p) => facts.leftOut.includes(p.key))) {
    // What was tried and could not be read is no reason to stay there.
    const tried = facts.adjustments.find((m) => m.step === 'white-level' && m.changes.length > 0)
    const from = tried?.changes.find((c) => c.control === control.key)?.from
    return from === undefined || from === now
      ? done('not compared: highlights were not read')
      : moved(control, now, Number(from), [], 'Highlights could not be read there: goes back.')
  }
  const { max } = control.range
  if (!movable(control)) return done('locked')
  const tried = valuesTried(facts, control, patches)
  const at = (value: number) => tried.find((t) => t.value === value)?.readings
  const first = tried[0]
  if (!first) return moved(control, now, now, patches, 'Measures highlights and the greys below them.')
  if (now === max && first.value === max)
    return done('at its maximum', {
      derived: [
        derivedOf(control, max, `at its maximum, for highlights: ${peakOf(first.readings)}`, first.readings),
      ],
    })
  const top = at(max)
  if (!top)
    return moved(
      control,
      now,
      max,
      patches,
      'Tells whether more of it brings highlights light, or only moves greys off PQ.',
    )
  const light = (readings: readonly RouteReading[], i: number) => readings[i]!.xyz[1]
  const brighter = light(top, 0) / light(first.readings, 0) - 1
  const offBy = (readings: readonly RouteReading[]) =>
    Math.max(
      ...[low, middle].map((p, i) =>
        Math.abs(Math.log(light(readings, i + 1) / pqTargetOf(p, facts.signal))),
      ),
    )
  const worse = offBy(top) - offBy(first.readings)
  const best = brighter > HDR_WHITE.brighter && worse < HDR_WHITE.off ? max : first.value
  if (now !== best)
    return moved(
      control,
      now,
      best,
      [],
      `${shown(control, max)} ${worse >= HDR_WHITE.off ? 'moves greys off PQ' : 'brings highlights next to nothing'}: goes back.`,
    )
  const rule =
    best === max
      ? `at its maximum, for highlights: ${peakOf(top)} instead of ${peakOf(first.readings)}`
      : worse >= HDR_WHITE.off
        ? `${shown(control, max)} moves greys below the highlights off PQ by ${Math.round(100 * worse)} %`
        : `${shown(control, max)} brings highlights ${brighter < 0.005 ? 'no' : `only ${(100 * brighter).toFixed(1)} %`} more light`
  return done(best === max ? 'at its maximum' : 'unchanged', {
    derived: [derivedOf(control, best, rule, [...first.readings, ...top])],
  })
}

const peakOf = (readings: readonly RouteReading[]): string => `${Math.round(readings[0]!.xyz[1])} cd/m²`

const derivedOf = (
  control: NumberControl,
  value: number,
  rule: string,
  readings: readonly RouteReading[],
) => ({ control: control.key, value, rule, readingIds: readings.map((r) => r.id) })

const SHADES: readonly Patch[] = HDR_BLACK.luminances.map((l) => {
  const grey = pqGrey(l)
  return { ...grey, key: `pq-shade-${grey.key.slice('pq-cd-'.length)}` }
})

/** How shades near black follow PQ: average ΔE ITP at the white they have, and how much signal they come too early (above zero) or too late. */
const shadesOf = (
  readings: readonly RouteReading[],
  { signal, targets }: RouteFacts,
  black: number,
): { error: number; early: number } => {
  // What the panel cannot show dark is no fault of the control.
  const rows = readings.map(({ patch, xyz }) => ({
    wanted: pqTargetOf(patch, signal) + black,
    is: Math.max(1e-5, xyz[1]),
  }))
  const mean = (of: (row: (typeof rows)[number]) => number) =>
    rows.reduce((sum, r) => sum + of(r), 0) / rows.length
  return {
    error: mean((r) => deltaEItp(xyToXyz(targets.white, r.wanted), xyToXyz(targets.white, r.is))),
    early: mean((r) => pqInverseEotf(r.is) - pqInverseEotf(r.wanted)),
  }
}

/**
 * Black level of an HDR picture by how shades near black follow PQ, in ΔE ITP: a first move by what is usual, then by what it did, as long as it
 * gets better; the best value that was read stays.
 */
const planHdrBlackLevel = ({
  facts,
  byRole,
  movable,
  outOfBox,
  patches,
}: StepContext): StepPlan | undefined => {
  const control = byRole.black
  const black = outOfBox?.byPatch.get(patches.black.key)?.xyz[1]
  if (!control || black === undefined) return undefined
  if (!movable(control)) return done('locked')
  const shades = SHADES.filter(
    (p) =>
      !facts.leftOut.includes(p.key) && pqTargetOf(p, facts.signal) > HDR_BLACK.above * Math.max(0, black),
  )
  if (facts.leftOut.includes(patches.black.key)) return done('black was not read')
  if (shades.length === 0) return done('shades near black are darker than the panel’s own black')
  const now = Number(facts.state[control.key])
  const wanted = [...shades, patches.black]
  const all = valuesTried(facts, control, wanted)
  // A value that lifts black itself is none, however well shades follow.
  const lifts = (readings: readonly RouteReading[]): boolean => {
    const [first, own] = [all[0]?.readings.at(-1)?.xyz[1] ?? 0, readings.at(-1)!]
    const sigma = own.sigma?.[1] ?? readingSigma(own.xyz[1], facts.precision)
    const told = first + Math.max(HDR_BLACK.least, HDR_BLACK.sigmas * sigma)
    return own.xyz[1] > Math.max(HDR_BLACK.lifted * first, told)
  }
  const tried = all.map(({ value, readings }) => {
    const judged = shadesOf(readings.slice(0, -1), facts, Math.max(0, black))
    return { value, readings, ...judged, ...(lifts(readings) ? { error: Number.POSITIVE_INFINITY } : {}) }
  })
  const here = tried.find((t) => t.value === now)
  if (!here) return moved(control, now, now, wanted, 'Measures shades near black.')
  const best = tried.reduce((a, b) => (b.error < a.error - HDR_BLACK.better ? b : a))
  const finish = (): StepPlan =>
    now === best.value
      ? done(`near black ΔE ITP ${best.error.toFixed(1)}`, {
          derived: [
            derivedOf(
              control,
              best.value,
              tried.length > 1
                ? `shades near black follow PQ best: ΔE ITP ${best.error.toFixed(1)}, ${tried[0]!.error.toFixed(1)} before`
                : `shades near black follow PQ: ΔE ITP ${best.error.toFixed(1)}`,
              tried.flatMap((t) => t.readings),
            ),
          ],
        })
      : moved(
          control,
          now,
          best.value,
          [],
          'Goes back to the value under which shades near black follow PQ best.',
        )
  if (best.error < HDR_BLACK.good || tried.length > HDR_BLACK.most) return finish()
  const { min, max, step } = control.range
  const next = nextValue(tried, reachOf(control), step)
  const to = valueAt(control, min + step * Math.round((Math.min(max, Math.max(min, next)) - min) / step))
  if (tried.some((t) => t.value === Number(to))) return finish()
  return moved(
    control,
    now,
    Number(to),
    wanted,
    `Shades near black are ${best.early > 0 ? 'lifted' : 'crushed'}: ΔE ITP ${best.error.toFixed(1)}.`,
  )
}

/** The value at which shades come neither early nor late, by the two best values so far; by what is usual where there is one. */
const nextValue = (
  tried: ReadonlyArray<{ value: number; error: number; early: number }>,
  reach: number,
  step: number,
): number => {
  const [best, other] = [...tried].sort((a, b) => a.error - b.error)
  const slope = other
    ? (other.early - best!.early) / (other.value - best!.value)
    : HDR_BLACK.usual / (reach * step)
  // What does nothing, or the wrong way round, is not gone on with.
  if (!(slope > 0)) return best!.value
  const most = HDR_BLACK.atOnce * reach * step
  return best!.value - Math.max(-most, Math.min(most, best!.early / slope))
}

export const hdrWhiteLevel = defineStep({
  key: 'white-level',
  title: 'White level',
  restsOn: ENDS,
  cases: hdrCases,
  finds: [],
  measures: true,
  plan: planHdrWhiteLevel,
})

export const hdrBlackLevel = defineStep({
  key: 'black-level',
  title: 'Black level',
  restsOn: ENDS,
  cases: hdrCases,
  finds: [],
  measures: true,
  plan: planHdrBlackLevel,
})
