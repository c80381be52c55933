import {
  BT2020_PRIMARIES,
  gamutCoverage,
  P3_PRIMARIES,
  type Primaries,
  pqEotf,
  xyzToXy,
} from '#core/colorimetry'
import { mappingOf, shadowsOf, summaryOf, tracking, WHITE_FROM } from '#core/hdr'
import { denseSweep, eotfSweep, isOffered, type Patch, peakSweep, sceneSweep } from '#core/measure'
import type { RouteContext, StepContext } from './context'
import type { HdrVerdict } from './findings'
import { hdrGreysOf, readHere, scenesOf, windowPeaksOf } from './hdr-readings'
import { done, type Limit, open, type Step, type StepPlan } from './step'
import { RESTS_ON, STEP_TITLE } from './step-keys'
import { CLOSE_ENOUGH, MOST_CLOSER } from './tuning'

/** Coverage of gamuts by the primaries as they were verified. */
const coverageOf = ({ patches }: RouteContext, read: ReturnType<typeof readHere>): HdrVerdict['coverage'] => {
  const primaries = patches.primaries.flatMap(({ key }) => {
    const xyz = read.get(key)?.xyz
    return xyz ? [xyzToXy(xyz)] : []
  })
  if (primaries.length < 3) return undefined
  const own = primaries as unknown as Primaries
  return { p3: gamutCoverage(own, P3_PRIMARIES, 'uv'), bt2020: gamutCoverage(own, BT2020_PRIMARIES, 'uv') }
}

/** All that was read of HDR in the state of now, judged. In: context. Out: verdict; undefined before the sweep of PQ was read. */
const judgeHdr = (context: RouteContext): HdrVerdict | undefined => {
  const { facts } = context
  const read = readHere(facts)
  const greys = hdrGreysOf(facts, read)
  if (greys.length < 3) return undefined
  const windows = windowPeaksOf(read)
  const verdict = mappingOf(greys, scenesOf(facts, read, windows), windows)
  const rows = tracking(greys, facts.targets.white)
  const knee = verdict.knee ?? 0
  const below = rows.filter((r) => r.target <= knee)
  const black = read.get(context.patches.black.key)?.xyz[1] ?? 0
  return {
    ...verdict,
    masteringPeak: facts.signal.masteringPeak ?? null,
    windows,
    rows,
    tracking: summaryOf(below.map((r) => r.deltaE)),
    white: summaryOf(below.flatMap((r) => (r.target >= pqEotf(WHITE_FROM) ? [r.whiteError] : []))),
    coverage: coverageOf(context, read),
    shadows: shadowsOf(rows, Math.max(0, black)),
  }
}

/** Between which targets the knee lies, where the sweep does not tell it closely yet. */
const aroundKnee = ({ rows, knee }: HdrVerdict): readonly [number, number] | undefined => {
  if (knee === undefined) return undefined
  const above = rows.findIndex((r) => r.target > knee)
  const [a, b] = [rows[above - 1], rows[above]]
  return a && b ? [a.target, b.target] : undefined
}

/**
 * How HDR ends: the sweep of PQ, closer about the knee, the peak by window in its first second and sustained, and greys beside a highlight. All in
 * the final state.
 */
const planEotf = (context: StepContext): StepPlan => {
  const { facts } = context.watching
  const read = readHere(facts)
  const unread = (patches: readonly Patch[]) =>
    patches.filter(
      (p) => !read.has(p.key) && !facts.leftOut.includes(p.key) && isOffered(p, facts.bench.layouts),
    )
  const sweep = (patches: readonly Patch[]): StepPlan =>
    open({ kind: 'sweep', purpose: 'verify', changes: [], patches })
  const first = unread(eotfSweep())
  if (first.length) return sweep(first)
  const verdict = judgeHdr(context.watching)
  const about = verdict && aroundKnee(verdict)
  // Where it is closed in on already, there is nothing more to be read.
  const closer = (verdict?.rows.length ?? 0) - eotfSweep().length
  const dense =
    about && about[1] / about[0] > CLOSE_ENOUGH && closer < MOST_CLOSER ? unread(denseSweep(...about)) : []
  if (dense.length) return sweep(dense)
  // Before the peak: a panel that has given all it can is not itself for a while.
  const scenes = unread(sceneSweep())
  if (scenes.length) return sweep(scenes)
  const peaks = unread(peakSweep())
  if (peaks.length) return sweep(peaks)
  const leftOut = [
    ...(context.byRole.levelWhite.length ? ['multi-point white balance'] : []),
    ...(context.byRole.colours.length ? ['colour management'] : []),
  ]
  const limits: Limit[] = [
    ...(leftOut.length
      ? [
          {
            step: 'eotf' as const,
            sentence: `In HDR ${leftOut.join(' and ')} ${leftOut.length > 1 ? 'are not derived yet and stay as they are' : 'is not derived yet and stays as it is'}.`,
          },
        ]
      : []),
    ...(verdict?.moves === undefined
      ? [
          {
            step: 'eotf' as const,
            sentence:
              'Whether tone mapping follows the scene was not checked: the source shows no highlight beside a patch.',
          },
        ]
      : []),
    ...(verdict && verdict.knee === undefined
      ? [{ step: 'eotf' as const, sentence: 'No grey comes within 3 % of PQ: the display scales all of it.' }]
      : []),
  ]
  return done(verdict?.knee ? `leaves PQ at ${verdict.knee.toFixed(0)} cd/m²` : '', {
    limits,
    findings: { hdr: verdict },
  })
}

export const eotf: Step = {
  key: 'eotf',
  title: STEP_TITLE.eotf,
  restsOn: RESTS_ON.eotf,
  measures: false,
  plan: planEotf,
}
