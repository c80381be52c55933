import type { ChoiceControl } from '#core/display'
import { toldApart } from '#core/judge'
import { BLACK, HIGHLIGHT, isOffered, type Patch, PQ_PEAK, pqGrey, REFERENCE_WHITE } from '#core/measure'
import { quoted } from '#core/model'
import { adjust, done } from '../contract'
import type { RouteContext } from '../facts/context'
import { eachValue, readAtValue } from '../facts/each-value'
import { measuringStateOf } from '../facts/facts'
import type { DimmingOption } from '../facts/findings'
import { COMPARED } from '../rests-on'
import { PEAK_LOST, SHADES_KEPT } from '../tuning'
import { type Compared, strengthsAtRest } from './compared'
import { strengthsLeftOut } from './say'

const DARK: Patch = { ...BLACK, key: 'pq-black-alone', label: 'Black alone', level: null }
/** Black in the middle, with a highlight at the edge: what zones let bloom there. */
const BLOOM: Patch = {
  ...BLACK,
  key: 'pq-black-beside-highlight',
  label: 'Black beside a highlight',
  level: null,
  highlight: { signal: [...HIGHLIGHT.signal], window: HIGHLIGHT.window },
}
/** The same where a source shows no highlight: black in a bright surround. */
const WITHIN: Patch = {
  ...BLACK,
  key: 'pq-black-in-light',
  label: 'Black in light',
  level: null,
  // The whole screen is lit: no more than reference white.
  surround: pqGrey(REFERENCE_WHITE).signal,
  window: 0.1,
}
const SHADE: Patch = (() => {
  const grey = pqGrey(0.5)
  return { ...grey, key: 'pq-shade-alone', label: '0.5 cd/m² alone' }
})()

/**
 * Strengths of local dimming in HDR: each by what blooms into black beside a highlight, and by what it costs in shades and in peak. The one with the
 * least light beside highlights is taken, or the strongest contrast where the policy asks for it; never one that crushes shades or takes peak.
 */
export const hdrDimmingPart = (context: RouteContext, control: ChoiceControl): Compared<DimmingOption> => {
  const { facts } = context
  const bloom = isOffered(BLOOM, facts.bench) ? BLOOM : WITHIN
  const lost = (p: Patch) => facts.leftOut.includes(p.key)
  if ([DARK, bloom, SHADE].some(lost))
    return {
      plan: done('', {
        limits: [strengthsLeftOut({ control, value: facts.state[control.key]! })],
      }),
      options: [],
      choice: facts.state[control.key],
    }
  // A peak beyond the meter leaves what blooms and what shades lose.
  const patches = [DARK, bloom, SHADE, ...(lost(PQ_PEAK) ? [] : [PQ_PEAK])]
  const rest = control.neutral ?? facts.atRest?.[control.key] ?? control.choices[0]!.value
  const { options, next } = eachValue<DimmingOption>(facts, {
    control,
    // The value that is measured with comes first: the others are held against it.
    choices: [...control.choices].sort((a, b) => Number(b.value === rest) - Number(a.value === rest)),
    patchesFor: () => patches,
    readAt: (value) =>
      readAtValue(facts, control, value, {
        alike: COMPARED,
        state: measuringStateOf(facts, facts.state),
        counts: (r) => r.purpose === 'adjust',
      }),
    with: strengthsAtRest(context, control),
    judge: ({ value, label }, read, [first]) => {
      const at = (p: Patch) => Math.max(1e-5, read.get(p.key)!.xyz[1])
      const peak = read.get(PQ_PEAK.key)?.xyz[1]
      // Above the panel's own black, of which dimming takes away as well.
      const light = Math.max(1e-5, at(SHADE) - at(DARK))
      return {
        control: control.key,
        value,
        label,
        contrast: (peak ?? REFERENCE_WHITE) / at(bloom),
        bar: at(bloom),
        halo: at(bloom) / at(DARK),
        haloing: toldApart(at(bloom), at(DARK)),
        shade: first?.shadeLight ? light / first.shadeLight : 1,
        ...(peak === undefined ? {} : { peak }),
        shadeLight: light,
        readingIds: [...read.values()].map((r) => r.id),
      }
    },
    purpose: ({ label }) =>
      `Measures ${quoted(control)} ${label}: black beside a highlight, shades and peak.`,
  })
  if (next) return { plan: adjust(next), options }
  const brightest = Math.max(...options.map((o) => o.peak ?? 0))
  const lostOf = ({ peak = brightest }: DimmingOption) => (brightest > 0 ? 1 - peak / brightest : 0)
  const kept = options.filter((o) => o.shade > SHADES_KEPT && lostOf(o) < PEAK_LOST)
  const among = kept.length ? kept : options
  const strongest = facts.policy.dimming === 'strongest-contrast'
  const better = (a: DimmingOption, b: DimmingOption) =>
    strongest ? b.contrast > 1.02 * a.contrast : b.bar < 0.95 * a.bar
  const best = among.reduce((a, b) => (better(a, b) ? b : a))
  const cost = Math.round(100 * lostOf(best))
  const figures = [
    `${best.bar.toPrecision(2)} cd/m² in black beside a highlight`,
    `shades ${Math.round(100 * best.shade)} %`,
    ...(brightest === 0 ? [] : [cost < 1 ? 'peak whole' : `peak −${cost} %`]),
  ].join(', ')
  return {
    plan: done(`${best.label}: ${figures}`, {
      derived: [
        {
          control: control.key,
          value: best.value,
          rule: `${strongest ? 'the strongest contrast' : 'the least light'} beside highlights of ${options.length} measured: ${figures}`,
          readingIds: options.flatMap((o) => o.readingIds),
        },
      ],
    }),
    options,
    choice: best.value,
  }
}
