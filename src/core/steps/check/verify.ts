import { colourError, judgeGreyScale } from '#core/judge'
import { greyLevel, isMemoryColour, sayWhole } from '#core/measure'
import { ITP_STEPS } from '#core/scale'
import { targetOn } from '#core/target'
import { defineStep, done, everyCase, open, type StepPlan } from '../contract'
import type { CaseVerdict, Spread, WatchValue, WorseFigure } from '../facts/asked'
import type { RouteContext } from '../facts/context'
import { gatherSweep, greysOf, keyOf, type SweepReadings } from '../facts/facts'
import { PICTURE } from '../rests-on'
import { watchChanges } from '../screen/processing'
import { USUAL_NOISE, VERIFY_SCATTER } from '../tuning'

const spreadOf = (list: ReadonlyArray<{ label: string; deltaE: number }>): Spread | undefined => {
  if (list.length === 0) return undefined
  const worst = list.reduce((a, b) => (b.deltaE > a.deltaE ? b : a))
  return {
    average: list.reduce((s, c) => s + c.deltaE, 0) / list.length,
    worst: worst.deltaE,
    worstAt: worst.label,
  }
}

/** Judges a whole sweep of a case against its targets. In: context, sweep. Out: verdict, or undefined without a white. */
export const judgeCase = (context: RouteContext, sweep: SweepReadings): CaseVerdict | undefined => {
  const { targets, precision } = context.facts
  const grey = judgeGreyScale(greysOf(sweep), targets, precision)
  if (!grey) return undefined
  const target = targetOn(targets, { white: grey.white.luminance, black: grey.black ?? 0 })
  // The channels of BT.2020 lie beyond every panel: they tell how far it reaches, and are no errors.
  const { primaries, six } = context.patches
  const beyond = new Set(primaries.flatMap((p) => (six.some((one) => one.key === p.key) ? [] : [p.key])))
  const colours = [...sweep.byPatch.values()].flatMap(({ patch, xyz, id }) =>
    greyLevel(patch) !== undefined ||
    patch.layout ||
    patch.window ||
    // A grey at another rate or in another place is no colour.
    patch.variableRate ||
    patch.position ||
    patch.level === null ||
    beyond.has(patch.key)
      ? []
      : [
          {
            patch: patch.key,
            label: patch.label,
            deltaE: colourError(xyz, target.xyzOf(patch.signal), target).deltaE,
            id,
          },
        ],
  )
  const natural = colours.filter((c) => isMemoryColour(c.patch))
  return {
    grey,
    natural: spreadOf(natural),
    six: spreadOf(colours.filter((c) => !natural.includes(c))),
    colours,
  }
}

/** Judges a verification with the shades near black that were read in its state. In: context, whole sweep. Out: as `judgeCase`. */
export const judgeVerification = (context: RouteContext, sweep: SweepReadings): CaseVerdict | undefined => {
  const verdict = judgeCase(context, sweep)
  const shades = gatherSweep(context.facts, ['verify'], context.patches.nearBlack, sweep.state)
  const { targets, precision } = context.facts
  const nearBlack =
    shades && judgeGreyScale([...greysOf(sweep), ...greysOf(shades)], targets, precision)?.nearBlack
  return verdict && nearBlack ? { ...verdict, grey: { ...verdict.grey, nearBlack } } : verdict
}

/**
 * What got worse between two sweeps, beyond the scatter of reading. Luminance is no error: it was asked for.
 * In: before and after, scatter of an average greyscale ΔE, whether it is of HDR: there colours count in ΔE ITP, and contrast and gamma of the
 * balanced greys say nothing. Out: one sentence for each figure, the gravest first.
 */
export const worseFigures = (
  before: CaseVerdict,
  after: CaseVerdict,
  noise: number,
  hdr = false,
): WorseFigure[] => {
  // ΔE ITP counts finer steps than ΔE00.
  const steps = hdr ? ITP_STEPS : 1
  const out: Array<WorseFigure & { by: number }> = []
  const compare = (
    key: string,
    name: string,
    a: number | undefined,
    b: number | undefined,
    margin: number,
  ) => {
    if (a !== undefined && b !== undefined && b > a + margin)
      out.push({ key, sentence: `${name} rose from ${a.toFixed(1)} to ${b.toFixed(1)}.`, by: b - a })
  }
  const average = Math.max(2 * noise, VERIFY_SCATTER.average)
  compare(
    'white-average',
    'Average greyscale ΔE',
    before.grey.whiteError.average,
    after.grey.whiteError.average,
    average,
  )
  compare(
    'white-worst',
    'Worst greyscale ΔE',
    before.grey.whiteError.worst,
    after.grey.whiteError.worst,
    VERIFY_SCATTER.worst,
  )
  compare(
    'grey-average',
    'Average greyscale ΔE including luminance',
    before.grey.fullError.average,
    after.grey.fullError.average,
    average + 0.05,
  )
  compare(
    'natural-average',
    'Average ΔE of memory colours',
    before.natural?.average,
    after.natural?.average,
    steps * average,
  )
  compare(
    'natural-worst',
    'Worst ΔE of a memory colour',
    before.natural?.worst,
    after.natural?.worst,
    steps * VERIFY_SCATTER.worst,
  )
  compare(
    'six-average',
    'Average ΔE of primaries and secondaries',
    before.six?.average,
    after.six?.average,
    steps * (average + 0.05),
  )
  compare(
    'six-worst',
    'Worst ΔE of primaries and secondaries',
    before.six?.worst,
    after.six?.worst,
    steps * VERIFY_SCATTER.worst,
  )
  const [a, b] = [before.grey.contrast, after.grey.contrast]
  if (!hdr && a && b && b < 0.93 * a)
    out.push({ key: 'contrast', sentence: `Contrast fell from ${sayWhole(a)} to ${sayWhole(b)}.`, by: 0.5 })
  const wanted = after.grey.wantedGamma
  if (!hdr && wanted && before.grey.gamma && after.grey.gamma) {
    const was = Math.abs(before.grey.gamma - (before.grey.wantedGamma ?? wanted))
    const is = Math.abs(after.grey.gamma - wanted)
    // A tone within 0.05 of its target is as near as anybody asks; one that stayed where it was got no worse by another luminance.
    const moved = Math.abs(after.grey.gamma - before.grey.gamma)
    if (is > Math.max(0.05, was + 0.03) && moved > 0.03)
      out.push({
        key: 'tone',
        sentence: `Gamma moved from ${before.grey.gamma.toFixed(2)} to ${after.grey.gamma.toFixed(2)}; the target is ${wanted.toFixed(2)}.`,
        by: 4 * (is - was),
      })
  }
  return out.sort((x, y) => y.by - x.by).map(({ key, sentence }) => ({ key, sentence }))
}

/**
 * The verification: the whole sweep again in the final state for watching, before and after side by side, what got worse on top.
 */
const planVerification = (
  context: RouteContext,
  watch: readonly WatchValue[],
  noise: number,
): {
  plan: StepPlan
  sweep: SweepReadings | undefined
  after: CaseVerdict | undefined
  worse: readonly WorseFigure[]
} => {
  const { facts, outOfBox, wholeCase } = context
  const here = gatherSweep(facts, ['verify'], wholeCase, facts.state)
  // A state that was verified whole stays so, though another was looked at since.
  const sweep = here?.missing.length === 0 ? here : gatherSweep(facts, ['verify'], wholeCase)
  const withShades = [
    ...wholeCase,
    ...context.patches.nearBlack.filter((p) => !facts.leftOut.includes(p.key)),
  ]
  const before = outOfBox && judgeCase(context, outOfBox)
  const whole = sweep !== undefined && sweep.missing.length === 0
  const after = whole ? judgeVerification(context, sweep) : undefined
  const worse = before && after ? worseFigures(before, after, noise, context.scale.absolute) : []
  const changes = watchChanges(facts, watch)
  const fresh = whole && keyOf(facts, sweep.state) === keyOf(facts, facts.state) && changes.length === 0
  if (!fresh)
    return {
      plan: open({
        kind: 'sweep',
        purpose: 'verify',
        changes,
        // Shades near black come with a whole sweep.
        patches: changes.length || !here ? withShades : here.missing,
      }),
      sweep,
      after,
      worse,
    }
  const open1 = worse.filter((w) => !facts.accepted.includes(w.key))
  const note = after ? `average ΔE00 ${after.grey.whiteError.average.toFixed(1)}` : ''
  return {
    plan: open1.length && facts.bench.eye ? open({ kind: 'worse', worse: open1 }, note) : done(note),
    sweep,
    after,
    worse,
  }
}

export const verify = defineStep({
  key: 'verify',
  title: 'Final verification',
  restsOn: PICTURE,
  cases: everyCase,
  finds: ['verify', 'after', 'worse'],
  measures: false,
  plan: ({ watching, found }) => {
    const { plan, sweep, after, worse } = planVerification(
      watching,
      found.processing?.watch ?? [],
      found.white?.noise ?? USUAL_NOISE,
    )
    return { ...plan, findings: { verify: sweep, after, worse } }
  },
})
