import type { Change, ControlValue } from '#core/display'
import { toldApart } from '#core/judge'
import type { Patch } from '#core/measure'
import { quoted } from '#core/model'
import { done, open, type StepPlan } from '../contract'
import type { RouteContext } from '../facts/context'
import { differsIn, measuringStateOf } from '../facts/facts'
import type { DynamicOption } from '../facts/findings'
import { PROCESSING } from '../rests-on'
import { CRUSHED } from '../tuning'
import { sameLight, shadeOf } from './dimming'

/** Level of a middle grey that dynamic contrast shifts, %. */
const MIDDLE_LEVEL = 50

/**
 * Dynamic contrast, where the policy allows it: each value is measured for the black that it buys and the shades that it
 * crushes; one that buys no black that can be told apart stays off.
 * In: context in the state of now. Out: plan, what was measured, the value for watching (undefined: at rest).
 */
export const dynamicPart = (
  context: RouteContext,
): { plan: StepPlan; options: readonly DynamicOption[]; choice?: ControlValue } => {
  const { facts, byRole } = context
  const control = byRole.dynamic
  const neutral = control?.neutral
  if (
    facts.policy.dynamicContrast === 'off' ||
    !control ||
    neutral === undefined ||
    !context.movable(control)
  )
    return { plan: done(''), options: [] }
  const atRest = measuringStateOf(facts, facts.state)
  const read = (value: ControlValue) => {
    const byPatch = new Map<string, (typeof facts.readings)[number]>()
    for (const r of facts.readings)
      if (
        r.state[control.key] === value &&
        differsIn(facts, PROCESSING, r.state, atRest, new Set([control.key])).length === 0 &&
        (!byRole.dimming || r.state[byRole.dimming.key] === atRest[byRole.dimming.key]) &&
        sameLight(context, r.state)
      )
        byPatch.set(r.patch.key, r)
    return byPatch
  }
  const { black, white, grey } = context.patches
  const [middle, shade] = [grey(MIDDLE_LEVEL), shadeOf(context.patches)]
  const patches: readonly Patch[] = [white, middle, shade, black]
  const still = read(neutral)
  const options: DynamicOption[] = []
  for (const value of [neutral, ...control.choices.map((c) => c.value).filter((v) => v !== neutral)]) {
    const own = read(value)
    const missing = patches.filter((p) => !own.has(p.key) && !facts.leftOut.includes(p.key))
    const label = control.choices.find((c) => c.value === value)?.label ?? String(value)
    if (missing.length) {
      const to: ReadonlyArray<readonly [string, ControlValue]> = [
        ...(byRole.dimming
          ? [[byRole.dimming.key, atRest[byRole.dimming.key] ?? byRole.dimming.default] as const]
          : []),
        [control.key, value],
      ]
      return {
        plan: open({
          kind: 'adjust',
          adjustment: {
            changes: to.flatMap(([key, wanted]): Change[] => {
              const from = facts.state[key]
              return from === undefined || from === wanted ? [] : [{ control: key, from, to: wanted }]
            }),
            reads: missing,
            purpose: `Measures ${quoted(control)} ${label}: how much it lowers black, and how much shadow detail it costs.`,
            predictions: [],
          },
        }),
        options,
      }
    }
    const at = (patch: Patch, from = own) => Math.max(1e-6, from.get(patch.key)?.xyz[1] ?? Number.NaN)
    options.push({
      value,
      label,
      black: at(black),
      shade: at(shade) / at(shade, still),
      middle: at(middle) / at(middle, still),
      readingIds: [...own.values()].map((r) => r.id),
    })
  }
  const rest = options.find((o) => o.value === neutral)
  const buying = options.filter(
    (o) => rest && o.black < rest.black && toldApart(o.black, rest.black) && o.shade > CRUSHED,
  )
  const best = buying.sort((a, b) => a.black - b.black)[0]
  return {
    plan: done('', {
      derived: [
        {
          control: control.key,
          value: best?.value ?? neutral,
          rule: best
            ? `buys black: ${best.black.toPrecision(2)} cd/m² instead of ${rest!.black.toPrecision(2)}, 5 % grey at ${Math.round(100 * best.shade)} % of its light`
            : 'off: no value lowers black visibly without crushing shadows',
          readingIds: options.flatMap((o) => o.readingIds),
        },
      ],
    }),
    options,
    choice: best?.value,
  }
}
