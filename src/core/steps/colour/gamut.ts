import { type XYZ, xyToXyz } from '#core/colorimetry'
import type { ControlValue, Role } from '#core/display'
import { colourError } from '#core/judge'
import type { Patch } from '#core/measure'
import { quoted, shown } from '#core/model'
import { defineStep, desktopOnly, done, everyCase, open, type StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import { differsIn } from '../facts/facts'
import type { GamutOption } from '../facts/findings'
import { COLOURS } from '../rests-on'
import { GAMUT_APART, GAMUT_FROM } from '../tuning'
import { colourTarget } from './colour-readings'

/** What it rests on. */
const GAMUT: readonly Role[] = ['picture-mode', 'range', ...COLOURS]

/** Memory colours that stand for what is inside a gamut: those that a survey reads. */
const insideOf = ({ patches }: RouteContext) =>
  patches.survey.filter((p) => patches.memoryColours.includes(p))

/**
 * Error of a gamut, chromatic, in the unit of the scale, at the target's luminance and against the white that there is: that of its primaries and that of colours inside it in equal parts, since a boost may
 * bring primaries nearer and everything else further away.
 */
const gamutError = (
  context: RouteContext,
  readings: ReadonlyMap<string, XYZ>,
  white: XYZ,
): { readonly error: number; readonly primaries: number } | undefined => {
  const target = colourTarget(context, white[1])
  // White is balanced afterwards: colours count against the white that there is.
  const wantedWhite = xyToXyz(target.whitePoint, white[1])
  const errorsOf = (among: readonly Patch[]) =>
    among.flatMap(({ key, signal }) => {
      const xyz = readings.get(key)
      if (!xyz) return []
      const wanted = target.xyzOf(signal)
      const balanced = xyz.map((v, i) => (v * wantedWhite[i]!) / Math.max(1e-9, white[i]!))
      const same = balanced.map((v) => (v * wanted[1]) / Math.max(1e-9, balanced[1]!)) as unknown as XYZ
      return [colourError(same, wanted, target).deltaE]
    })
  const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
  const primaries = errorsOf(context.scale.gamutPrimaries(context.patches))
  const inside = errorsOf(insideOf(context))
  if (primaries.length < 3) return undefined
  const own = mean(primaries)
  return { error: inside.length ? (own + mean(inside)) / 2 : own, primaries: own }
}

/**
 * The gamut, before white: its default where its primaries are near enough, else the choice that comes nearest by measurement.
 * Out: a plan, done or open; undefined where the sheet has no such control.
 */
const planGamut = (
  context: RouteContext,
): { plan: StepPlan; options: readonly GamutOption[] } | undefined => {
  const { facts, byRole } = context
  const control = byRole.gamut
  if (!control || !context.movable(control)) return undefined
  const byValue = new Map<ControlValue, { xyz: Map<string, XYZ>; white?: XYZ; ids: number[] }>()
  const { white } = context.patches
  const primaries = context.scale.gamutPrimaries(context.patches)
  const { gamut: wanted, unit, perDeltaE2000 } = context.scale
  const inside = insideOf(context)
  const told = new Set([white, ...primaries, ...inside].map((p) => p.key))
  for (const r of facts.readings) {
    if (!told.has(r.patch.key)) continue
    if (differsIn(facts, GAMUT, r.state, facts.state).length > 0) continue
    const value = r.state[control.key]!
    const own = byValue.get(value) ?? { xyz: new Map<string, XYZ>(), ids: [] as number[] }
    if (r.patch.key === white.key) own.white = r.xyz
    else own.xyz.set(r.patch.key, r.xyz)
    own.ids.push(r.id)
    byValue.set(value, own)
  }
  const usual =
    context.outOfBox?.byPatch.get(white.key)?.xyz ?? xyToXyz(facts.targets.white, facts.targets.luminance)
  const options = control.choices.flatMap(({ value, label }) => {
    const own = byValue.get(value)
    const error = own && gamutError(context, own.xyz, own.white ?? usual)
    return error === undefined ? [] : [{ value, label, ...error, readingIds: own!.ids }]
  })
  const now = facts.state[control.key]!
  const own = options.find((o) => o.value === now)
  // Once colours were moved in this gamut, it is not reopened.
  const begun = facts.adjustments.some((m) =>
    m.changes.some((c) => byRole.colours.some((a) => a.control.key === c.control)),
  )
  // What a tour of the desktop read in each gamut decides after it, white and curve included.
  const toured =
    desktopOnly(facts) &&
    facts.toured?.some(
      (r) => r.state[control.key] !== now && differsIn(facts, GAMUT, r.state, facts.state).length === 0,
    )
  if (begun || toured) return { plan: done(shown(control, now)), options }
  const adjustment = (to: ControlValue, purpose: string): StepPlan =>
    open({
      kind: 'adjust',
      adjustment: {
        changes: to === now ? [] : [{ control: control.key, from: now, to }],
        reads: [...primaries, ...inside].filter((p) => !facts.leftOut.includes(p.key)),
        purpose,
        predictions: [],
      },
    })
  const finish = (): StepPlan =>
    done(shown(control, now), {
      derived: [
        {
          control: control.key,
          value: now,
          rule:
            options.length > 1
              ? `primaries and memory colours nearest to ${wanted} of ${options.length} measured (${unit} ${own?.error.toFixed(1)})`
              : `primaries close enough out of the box (${unit} ${own?.primaries.toFixed(1)})`,
          readingIds: options.flatMap((o) => o.readingIds),
        },
      ],
    })
  if (!own) return { plan: adjustment(now, 'Reads the primaries of this gamut.'), options }
  if (own.primaries < GAMUT_FROM * perDeltaE2000 && options.length === 1) return { plan: finish(), options }
  const missing = control.choices.find((c) => !options.some((o) => o.value === c.value))
  const best = options.reduce((a, b) => (b.error < a.error ? b : a))
  if (missing && best.error > perDeltaE2000)
    return {
      plan: adjustment(
        missing.value,
        `Reads the primaries of ${quoted(control)} ${shown(control, missing.value)}.`,
      ),
      options,
    }
  if (best.value !== now && own.error - best.error > GAMUT_APART * perDeltaE2000)
    return { plan: adjustment(best.value, `Chooses the gamut nearest to ${wanted}: ${best.label}.`), options }
  return { plan: finish(), options }
}

export const gamut = defineStep({
  key: 'gamut',
  title: 'Gamut',
  restsOn: GAMUT,
  cases: everyCase,
  finds: ['gamuts'],
  measures: true,
  plan: (context) => {
    const planned = planGamut(context)
    return planned ? { ...planned.plan, findings: { gamuts: planned.options } } : done('no control for it')
  },
})
