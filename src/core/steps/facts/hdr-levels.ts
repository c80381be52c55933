import { pqEotf, type XYZ } from '#core/colorimetry'
import { type ControlSheet, type NumberControl, type PlacedControl, sameBut } from '#core/display'
import { greyLevel, type Patch, type PatchSet } from '#core/measure'
import { type ControlsByRole, reachOf } from '#core/model'
import { BALANCE_EXPONENT } from '#core/target'
import { TRIAL } from '../tuning'
import type { Adjustment } from './adjustment'
import type { RouteFacts, RouteReading } from './facts'
import { casePeakOf } from './hdr-reference'

/**
 * Where single levels act in HDR: at their share of the signal, before tones are mapped, or at their share of the panel's drive, behind it. A menu
 * says “50 %” and means the one or the other: 92 cd/m², or a fifth of the peak.
 */
export type LevelBasis = 'signal' | 'panel'

/** A single level as a sheet has it. */
interface Level {
  readonly level: number
  readonly control: NumberControl
}

/** What places on the scale of greys are counted from, cd/m². */
interface Scale {
  readonly peak: number
  readonly reference: number
}

const rounded = (place: number) => Math.round(1000 * place) / 1000

/** Place on the scale of greys at which a level acts, 1 for its brightest grey. */
export const placeOfLevel = (level: number, basis: LevelBasis, { peak, reference }: Scale): number => {
  const luminance = basis === 'signal' ? pqEotf(level) : peak * level ** BALANCE_EXPONENT
  return rounded((luminance / reference) ** (1 / BALANCE_EXPONENT))
}

const scaleOf = (facts: RouteFacts, { white }: PatchSet): Scale | undefined => {
  const peak = casePeakOf(facts)
  return peak === undefined ? undefined : { peak, reference: pqEotf(white.signal[1]) }
}

/** By how much light changed, as a share. */
const changeOf = (before: XYZ, after: XYZ): number =>
  Math.hypot(...before.map((v, i) => after[i]! - v)) / Math.hypot(...before)

/** Greys that tell where a level acts: one at each place where it may. */
const greysOfTrial = (
  level: number,
  scale: Scale,
  { grey }: PatchSet,
): Readonly<Record<LevelBasis, Patch>> => {
  const at = (basis: LevelBasis) => grey(Math.round(1000 * placeOfLevel(level, basis, scale)) / 10)
  return { signal: at('signal'), panel: at('panel') }
}

/** The level whose two places lie furthest apart on the part of the scale that is read well. */
const levelForTrial = (levels: readonly Level[], scale: Scale): Level | undefined => {
  const apart = ({ level }: Level): number => {
    const places = [placeOfLevel(level, 'signal', scale), placeOfLevel(level, 'panel', scale)]
    return places.every((p) => p >= TRIAL.from && p <= 1) ? Math.abs(places[0]! - places[1]!) : -1
  }
  const best = [...levels].sort((a, b) => apart(b) - apart(a))[0]
  return best && apart(best) > 0 ? best : undefined
}

const levelsOf = ({ levelWhite, levelTone }: ControlsByRole): readonly Level[] =>
  levelWhite.length ? levelWhite : levelTone

/** Readings of a trial: the newest of a grey with the level at rest, and with it moved. */
const pairOf = (
  readings: readonly RouteReading[],
  { control }: Level,
  patch: Patch,
): readonly [XYZ, XYZ] | undefined => {
  const rest = control.neutral ?? control.default
  const level = greyLevel(patch)
  const own = readings.filter((r) => greyLevel(r.patch) === level)
  const moved = own.findLast((r) => r.state[control.key] !== rest)
  const before = own.findLast(
    (r) => moved && r.state[control.key] === rest && sameBut(r.state, moved.state, [control.key]),
  )
  return moved && before && [before.xyz, moved.xyz]
}

/** Where single levels act: as the sheet says, or as a trial told; `nowhere` where it moved neither grey; undefined before. */
export const levelBasisOf = (
  facts: RouteFacts,
  byRole: ControlsByRole,
  patches: PatchSet,
): LevelBasis | 'nowhere' | undefined => {
  const levels = levelsOf(byRole)
  const said = levels.find((l) => l.control.levelAt)?.control.levelAt
  if (said) return said
  const scale = scaleOf(facts, patches)
  const level = scale && levelForTrial(levels, scale)
  if (!scale || !level) return undefined
  const greys = greysOfTrial(level.level, scale, patches)
  const [bySignal, byPanel] = [
    pairOf(facts.readings, level, greys.signal),
    pairOf(facts.readings, level, greys.panel),
  ]
  if (!bySignal || !byPanel) return undefined
  const [signal, panel] = [changeOf(...bySignal), changeOf(...byPanel)]
  if (Math.max(signal, panel) < TRIAL.least) return 'nowhere'
  return signal > panel ? 'signal' : 'panel'
}

/**
 * A sheet with single levels at the places where they act in HDR, on the scale of greys that white is balanced over; without them where that is not
 * known. Levels beyond the scale are left out, but for the next one: it tells how far the highest reaches.
 */
export const sheetInHdr = (facts: RouteFacts, byRole: ControlsByRole, patches: PatchSet): ControlSheet => {
  const { sheet } = facts
  if (levelsOf(byRole).length === 0) return sheet
  const basis = levelBasisOf(facts, byRole, patches)
  const scale = scaleOf(facts, patches)
  const known = basis && basis !== 'nowhere' && scale ? { basis, scale } : undefined
  return facts.memo.recall('sheet in HDR', sheet, JSON.stringify(known), () => {
    const placed = (level: number) => (known ? placeOfLevel(level, known.basis, known.scale) : undefined)
    const beyond = Math.min(
      ...sheet.controls.flatMap((c) => {
        const place = c.level === undefined ? undefined : placed(c.level)
        return place !== undefined && place > 1 ? [place] : []
      }),
    )
    return {
      ...sheet,
      controls: sheet.controls.map((c): PlacedControl => {
        if (c.level === undefined) return c
        const place = placed(c.level)
        return {
          ...c,
          menuLevel: c.level,
          level: place !== undefined && place >= TRIAL.darkest && place <= beyond ? place : undefined,
        }
      }),
    }
  })
}

/** The next reading or move that tells where single levels act; undefined where it is known, or nothing can tell. */
export const levelTrial = (
  facts: RouteFacts,
  all: ControlsByRole,
  patches: PatchSet,
  movable: (control: NumberControl) => boolean,
): Adjustment | undefined => {
  const levels = levelsOf(all).filter((l) => movable(l.control))
  const scale = scaleOf(facts, patches)
  const level = scale && levelForTrial(levels, scale)
  if (!scale || !level || levelBasisOf(facts, all, patches)) return undefined
  const { control } = level
  const greys = greysOfTrial(level.level, scale, patches)
  const reads = [greys.signal, greys.panel]
  const rest = Number(control.neutral ?? control.default)
  const now = Number(facts.state[control.key])
  const hereRead = reads.every((p) =>
    facts.readings.some(
      (r) =>
        greyLevel(r.patch) === greyLevel(p) &&
        r.state[control.key] === rest &&
        sameBut(r.state, facts.state, [control.key]),
    ),
  )
  const purpose = `Tells whether single levels act by the signal or by the panel: ${greys.signal.label} or ${greys.panel.label}.`
  const adjustment = { reads, purpose, predictions: [] }
  if (now !== rest)
    return { ...adjustment, changes: hereRead ? [] : [{ control: control.key, from: now, to: rest }] }
  if (!hereRead) return { ...adjustment, changes: [] }
  const { min, max, step } = control.range
  const clicks = Math.max(1, Math.round(TRIAL.share * reachOf(control))) * step
  const to = rest + clicks <= max ? rest + clicks : Math.max(min, rest - clicks)
  return { ...adjustment, changes: [{ control: control.key, from: rest, to }] }
}
