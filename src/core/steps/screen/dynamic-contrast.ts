import type { ControlValue } from '#core/display'
import { toldApart } from '#core/judge'
import type { Patch } from '#core/measure'
import { quoted } from '#core/model'
import { adjust, done } from '../contract'
import type { RouteContext } from '../facts/context'
import { type ByPatch, eachValue, readAtValue } from '../facts/each-value'
import { measuringStateOf } from '../facts/facts'
import type { DynamicOption } from '../facts/findings'
import { COMPARED } from '../rests-on'
import { CRUSHED } from '../tuning'
import { type Compared, strengthsAtRest } from './compared'
import { sameLight, shadeOf } from './dimming'

/** Level of a middle grey that dynamic contrast shifts, %. */
const MIDDLE_LEVEL = 50

/**
 * Dynamic contrast, where the policy allows it: each value is measured for the black that it buys and the shades that it
 * crushes; one that buys no black that can be told apart stays off.
 * In: context in the state of now. Out: plan, what was measured, the value for watching (undefined: at rest).
 */
export const dynamicPart = (context: RouteContext): Compared<DynamicOption> => {
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
  const readAt = (value: ControlValue) =>
    readAtValue(facts, control, value, {
      alike: COMPARED,
      state: atRest,
      counts: (r) => sameLight(context, r.state),
    })
  const { black, white, grey } = context.patches
  const [middle, shade] = [grey(MIDDLE_LEVEL), shadeOf(context.patches)]
  const still = readAt(neutral)
  const at = (read: ByPatch, patch: Patch) => Math.max(1e-6, read.get(patch.key)?.xyz[1] ?? Number.NaN)
  const { options, next } = eachValue<DynamicOption>(facts, {
    control,
    choices: [...control.choices].sort((a, b) => Number(b.value === neutral) - Number(a.value === neutral)),
    with: strengthsAtRest(context, control),
    patchesFor: () => [white, middle, shade, black],
    readAt,
    judge: ({ value, label }, read) => ({
      value,
      label,
      black: at(read, black),
      shade: at(read, shade) / at(still, shade),
      middle: at(read, middle) / at(still, middle),
      readingIds: [...read.values()].map((r) => r.id),
    }),
    purpose: ({ label }) =>
      `Measures ${quoted(control)} ${label}: how much it lowers black, and how much shadow detail it costs.`,
  })
  if (next) return { plan: adjust(next), options }
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
