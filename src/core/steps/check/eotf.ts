import {
  BT2020_PRIMARIES,
  gamutCoverage,
  P3_PRIMARIES,
  type Primaries,
  pqEotf,
  volumeCoverage,
  xyzToXy,
} from '#core/colorimetry'
import {
  mappingOf,
  shadowsOf,
  sourceScreens,
  summaryOf,
  tracking,
  WHITE_FROM,
  type WindowPeak,
} from '#core/hdr'
import {
  denseSweep,
  eotfSweep,
  GAME_WINDOWS,
  isOffered,
  MASTERING_PEAKS,
  masteredGreys,
  masteringSweep,
  type Patch,
  peakSweep,
  peakWindow,
  pqTargetOf,
  sayWhole,
  sceneSweep,
  USUAL_WINDOW,
} from '#core/measure'
import { defineStep, done, hdrCases, type Limit, open, type StepPlan } from '../contract'
import type { RouteContext, StepContext } from '../facts/context'
import type { RouteFacts } from '../facts/facts'
import type { Findings } from '../facts/findings'
import type { HdrFindings } from '../facts/findings-hdr'
import { hdrGreysOf, readHere, scenesOf, windowPeaksOf } from '../facts/hdr-readings'
import { PICTURE } from '../rests-on'
import { CLOSE_ENOUGH, MOST_CLOSER, ROUNDED, TRACKED_FROM } from '../tuning'
import { askedHdr } from './hdr-asked'
import { brightGreysNotRead, followsNowhere, sceneNotChecked } from './say'

/** How far the primaries as they were verified reach: in u′v′, in x, y, and in volume up to the peak in a window of a tenth. */
const coverageOf = (
  { patches }: RouteContext,
  read: ReturnType<typeof readHere>,
): Pick<HdrFindings, 'coverage' | 'coverageXy' | 'volume'> => {
  const none = { coverage: null, coverageXy: null, volume: null }
  const primaries = patches.primaries.flatMap(({ key }) => {
    const xyz = read.get(key)?.xyz
    return xyz ? [xyzToXy(xyz)] : []
  })
  if (primaries.length < 3) return none
  const own = primaries as unknown as Primaries
  const flat = (diagram: 'uv' | 'xy') => ({
    p3: gamutCoverage(own, P3_PRIMARIES, diagram),
    bt2020: gamutCoverage(own, BT2020_PRIMARIES, diagram),
  })
  const white = read.get(peakWindow(USUAL_WINDOW).first.key)?.xyz
  const of = (target: Primaries) => white && volumeCoverage(own, white, target)
  const [p3, bt2020] = [of(P3_PRIMARIES), of(BT2020_PRIMARIES)]
  return {
    coverage: flat('uv'),
    coverageXy: flat('xy'),
    volume: p3 === undefined || bt2020 === undefined ? null : { p3, bt2020 },
  }
}

/** Peak that greys under other mastering peaks are placed by: the highest that was read. */
const peakOf = (windows: readonly WindowPeak[]): number => Math.max(0, ...windows.map((w) => w.first))

/** What greys about the peak become under each mastering peak, the lowest first. */
const masteredOf = (
  facts: RouteFacts,
  read: ReturnType<typeof readHere>,
  windows: readonly WindowPeak[],
): HdrFindings['mastered'] => {
  const peak = peakOf(windows)
  const others = masteringSweep(peak)
  const usual = facts.signal.masteringPeak
  const of = (patches: readonly Patch[]) =>
    patches.flatMap((p) => {
      const xyz = read.get(p.key)?.xyz
      return xyz ? [{ target: pqTargetOf(p, facts.signal), luminance: xyz[1] }] : []
    })
  if (!usual || of(others).length === 0) return []
  return [
    ...MASTERING_PEAKS.map((p) => ({
      peak: p as number,
      greys: of(others.filter((o) => o.masteringPeak === p)),
    })),
    { peak: usual, greys: of(masteredGreys(peak)) },
  ]
    .filter((m) => m.greys.length > 0)
    .sort((a, b) => a.peak - b.peak)
}

/** All that was read of HDR in the state of now, judged. In: context. Out: verdict; undefined before the sweep of PQ was read. */
const judgeHdr = (context: RouteContext): HdrFindings | undefined => {
  const { facts } = context
  const read = readHere(facts)
  const greys = hdrGreysOf(facts, read)
  if (greys.length < 3) return undefined
  const windows = windowPeaksOf(read)
  const verdict = mappingOf(greys, scenesOf(facts, read, windows), windows)
  const rows = tracking(greys, facts.targets.white)
  const knee = verdict.knee ?? 0
  const below = rows.filter((r) => r.target >= TRACKED_FROM * (1 - ROUNDED) && r.target <= knee)
  const black = read.get(context.patches.black.key)?.xyz[1] ?? 0
  const { mapping } = verdict
  return {
    mapping,
    scale: verdict.scale,
    knee: verdict.knee ?? null,
    detailEnds: verdict.detailEnds ?? null,
    moves: verdict.moves ?? null,
    masteringPeak: facts.signal.masteringPeak ?? null,
    peakByWindow: windows,
    mastered: masteredOf(facts, read, windows),
    greys: rows,
    tracking: summaryOf(below.map((r) => r.deltaE)) ?? null,
    white: summaryOf(below.flatMap((r) => (r.target >= pqEotf(WHITE_FROM) ? [r.whiteError] : []))) ?? null,
    ...coverageOf(context, read),
    shadows: shadowsOf(rows, Math.max(0, black)) ?? null,
    ...(facts.viewingCase === 'hdr-game'
      ? { sourceScreens: sourceScreens(verdict, windows, rows, Math.max(0, black)) }
      : {}),
  }
}

/** What is known of HDR in the state of now, also while a step before its end is looked at again. In: context in the state for watching. */
export const knownHdr = (context: RouteContext): Pick<Findings, 'hdr' | 'askedHdr'> =>
  context.scale.absolute ? { hdr: judgeHdr(context), askedHdr: askedHdr(context) } : {}

/** Between which targets the knee lies, where the sweep does not tell it closely yet. */
const aroundKnee = ({ greys, knee }: HdrFindings): readonly [number, number] | undefined => {
  if (knee === null) return undefined
  const above = greys.findIndex((r) => r.target > knee)
  const [a, b] = [greys[above - 1], greys[above]]
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
    patches.filter((p) => !read.has(p.key) && !facts.leftOut.includes(p.key) && isOffered(p, facts.bench))
  const sweep = (patches: readonly Patch[]): StepPlan =>
    open({ kind: 'sweep', purpose: 'verify', changes: [], patches })
  const first = unread(eotfSweep())
  if (first.length) return sweep(first)
  const verdict = judgeHdr(context.watching)
  const about = verdict && aroundKnee(verdict)
  // Where it is closed in on already, there is nothing more to be read.
  const closer = (verdict?.greys.length ?? 0) - eotfSweep().length
  const dense =
    about && about[1] / about[0] > CLOSE_ENOUGH && closer < MOST_CLOSER ? unread(denseSweep(...about)) : []
  if (dense.length) return sweep(dense)
  // Before the peak: a panel that has given all it can is not itself for a while.
  const scenes = unread(sceneSweep())
  if (scenes.length) return sweep(scenes)
  // A game’s own screens ask for a small window and a full screen; films are made for every window and mastering peak.
  const game = facts.viewingCase === 'hdr-game'
  const peaks = unread(peakSweep(game ? GAME_WINDOWS : undefined))
  if (peaks.length) return sweep(peaks)
  const peak = peakOf(verdict?.peakByWindow ?? [])
  // Metadata scene by scene take the place of what is flagged for the whole.
  const mastered =
    peak > 0 && !facts.signal.dynamicMetadata && !game
      ? unread([...masteredGreys(peak), ...masteringSweep(peak)])
      : []
  if (mastered.length) return sweep(mastered)
  const beyond = facts.leftOut.some((key) => /^pq-(cd|window)-/.test(key))
  const limits: Limit[] = [
    ...(beyond ? [brightGreysNotRead] : []),
    ...(sceneSweep().some((p) => p.highlight && read.has(p.key)) ? [] : [sceneNotChecked]),
    ...(verdict && verdict.knee === null ? [followsNowhere] : []),
  ]
  return done(verdict?.knee ? `leaves PQ at ${sayWhole(verdict.knee)} cd/m²` : '', {
    limits,
    findings: { hdr: verdict, askedHdr: askedHdr(context.watching) },
  })
}

export const eotf = defineStep({
  key: 'eotf',
  title: 'EOTF tracking and peak',
  restsOn: PICTURE,
  cases: hdrCases,
  finds: ['hdr', 'askedHdr'],
  measures: false,
  plan: planEotf,
})
