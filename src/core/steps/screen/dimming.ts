import type { ChoiceControl, ControlValue, State } from '#core/display'
import { toldApart } from '#core/judge'
import type { Patch, PatchSet } from '#core/measure'
import { quoted } from '#core/model'
import { adjust, done, type Limit } from '../contract'
import type { RouteContext } from '../facts/context'
import { type ByPatch, eachValue, readAtValue } from '../facts/each-value'
import { measuringStateOf } from '../facts/facts'
import type { DimmingOption } from '../facts/findings'
import { COMPARED } from '../rests-on'
import { CRUSHED, DIMMING_DARK, DIMMING_LIGHT } from '../tuning'
import { type Compared, strengthsAtRest } from './compared'
import { hdrDimmingPart } from './hdr-dimming'
import { dimmingLocked, noCheckerboard } from './say'

const field = (signal: readonly [number, number, number], surround: readonly [number, number, number]) => ({
  signal: [...signal] as [number, number, number],
  surround: [...surround] as [number, number, number],
})
export const BOARD_WHITE: Patch = {
  key: 'board-white',
  label: 'White field',
  ...field(DIMMING_LIGHT, DIMMING_DARK),
  layout: 'checkerboard',
}
export const BOARD_BLACK: Patch = {
  key: 'board-black',
  label: 'Black field',
  ...field(DIMMING_DARK, DIMMING_LIGHT),
  layout: 'checkerboard',
}
const HALO: Patch = {
  key: 'halo',
  label: 'Black in white',
  ...field(DIMMING_DARK, DIMMING_LIGHT),
  window: 0.1,
}
const BAR: Patch = {
  key: 'bar',
  label: 'Black beside grey',
  ...field(DIMMING_DARK, [0.5, 0.5, 0.5]),
  window: 0.25,
}
/** Level of a shade that dimming and dynamic contrast can crush, %. */
const SHADE_LEVEL = 5
export const shadeOf = ({ grey }: PatchSet): Patch => grey(SHADE_LEVEL)

/** Strengths of local dimming, or values of an iris, measured one after the other, and the one that the policy prefers. */
export const dimmingPart = (context: RouteContext, control: ChoiceControl): Compared<DimmingOption> => {
  const { facts } = context
  const limited = (limit: Limit) => ({
    plan: done('', { limits: [limit] }),
    options: [],
    choice: facts.state[control.key],
  })
  if (!context.movable(control)) return limited(dimmingLocked({ control }))
  if (context.scale.absolute) return hdrDimmingPart(context, control)
  if (!facts.bench.layouts.includes('checkerboard'))
    return limited(noCheckerboard({ control, value: control.neutral ?? facts.state[control.key]! }))
  const neutral = control.neutral
  const zoned = control.role === 'dimming'
  // Automatic picture processing was at rest while strengths were compared, whatever stands for watching by now.
  const readAt = (value: ControlValue) =>
    readAtValue(facts, control, value, {
      alike: COMPARED,
      state: measuringStateOf(facts, facts.state),
      counts: (r) => sameLight(context, r.state),
    })
  const { black } = context.patches
  const shade = shadeOf(context.patches)
  const whites = readAt(neutral ?? control.choices[0]!.value)
  const { options, next } = eachValue<DimmingOption>(facts, {
    control,
    choices: control.choices,
    patchesFor: (value) =>
      value === neutral
        ? [BOARD_WHITE, BOARD_BLACK, black, shade]
        : [BOARD_WHITE, BOARD_BLACK, HALO, BAR, black, shade],
    readAt,
    with: strengthsAtRest(context, control),
    judge: ({ value, label }, read) => {
      const at = (p: Patch) => Math.max(1e-5, read.get(p.key)?.xyz[1] ?? Number.NaN)
      const dark = at(black)
      const halo = value === neutral ? dark : at(HALO)
      // Less light all over crushes nothing.
      const shadeShare = (of: ByPatch) =>
        (of.get(shade.key)?.xyz[1] ?? 0) / (of.get(BOARD_WHITE.key)?.xyz[1] ?? 1)
      return {
        control: control.key,
        value,
        label,
        contrast: at(BOARD_WHITE) / at(BOARD_BLACK),
        bar: value === neutral ? dark : at(BAR),
        halo: halo / dark,
        haloing: toldApart(halo, dark),
        shade: shadeShare(read) / (shadeShare(whites) || shadeShare(read) || 1),
        readingIds: [...read.values()].map((r) => r.id),
      }
    },
    known: ({ value, label }) => strengthFromPriors(context, control, String(value), label),
    purpose: ({ label }) =>
      `Measures ${quoted(control)} ${label}: contrast side by side, black beside light${zoned ? ', haloing' : ''}.`,
  })
  if (next) return { plan: adjust(next), options }
  const kept = options.filter((o) => o.shade > CRUSHED)
  const among = kept.length ? kept : options
  // An iris has no zones, and what it lets through shows around nothing bright.
  const calm = zoned ? among.filter((o) => !o.haloing) : among
  const strongest = facts.policy.dimming === 'strongest-contrast'
  const best =
    strongest || calm.length
      ? (strongest ? among : calm).reduce((a, b) => (b.contrast > a.contrast * 1.02 ? b : a))
      : // Where none is free of haloing, as on a display that cannot switch it off, the one that halos least.
        among.reduce((a, b) => (b.halo < a.halo ? b : a))
  return {
    plan: done(`${best.label}: contrast ${Math.round(best.contrast)}`, {
      derived: [
        {
          control: control.key,
          value: best.value,
          rule: `${strongest || !zoned ? 'the strongest contrast' : calm.length ? 'the most contrast without haloing' : 'the least haloing'} of ${options.length} ${best.readingIds.length ? 'measured' : 'measured in an earlier case'} (checkerboard ${Math.round(best.contrast)}:1)`,
          readingIds: options.flatMap((o) => o.readingIds),
        },
      ],
    }),
    options,
    choice: best.value,
  }
}

/** What an earlier case measured of a strength: contrasts do not depend on how bright white is. */
const strengthFromPriors = (
  { facts }: RouteContext,
  control: ChoiceControl,
  value: string,
  label: string,
): DimmingOption | undefined => {
  const prior = facts.priors.find(
    (l) => l.kind === 'dimming' && l.control === control.key && l.choice === value,
  )
  if (!prior || prior.mean.length < 4) return undefined
  const [contrast, halo, bar, shade] = prior.mean as [number, number, number, number]
  const white = facts.targets.luminance
  const black = white / Math.max(1, contrast)
  return {
    control: control.key,
    value,
    label,
    contrast,
    bar: bar * white,
    halo,
    haloing: toldApart(black * halo, black),
    shade,
    readingIds: [],
  }
}

/** Whether readings were taken at the panel light and in the curve of now, so that contrasts can be compared. */
export const sameLight = ({ facts, byRole }: RouteContext, state: State): boolean =>
  [byRole.light, byRole.tone, byRole.black].every((c) => !c || state[c.key] === facts.state[c.key])
