import { isOffered, type Patch, readingSigma } from '#core/measure'
import { defineStep, done, gameCases, open, type StepPlan } from '../contract'
import type { StepContext } from '../facts/context'
import type { RouteFacts } from '../facts/facts'
import type { RefreshFindings, RefreshRow } from '../facts/findings-games'
import { readHere } from '../facts/hdr-readings'
import { WHITE } from '../rests-on'
import { FLICKER_SEEN } from '../tuning'
import { flickers } from './say'

/** The fastest rate at which the source sends the size of picture that is measured with. */
const linkRateOf = ({ bench, signal }: RouteFacts): number =>
  Math.max(
    0,
    ...(bench.links ?? [])
      .filter((l) => l.width === signal.width && l.height === signal.height)
      .map((l) => l.rate),
  )

/** Rates that are compared: the slowest and the fastest between which the source varies, and one between them. */
const ratesOf = (facts: RouteFacts): readonly number[] => {
  const varies = facts.bench.variableRefresh
  if (!varies) return []
  const fastest = Math.min(varies.fastest, linkRateOf(facts))
  if (fastest <= varies.slowest) return []
  return [varies.slowest, Math.round(Math.sqrt(varies.slowest * fastest)), fastest]
}

/** A grey at a rate that is really sent, on a link fast enough for all of them. */
const greyAt = (grey: Patch, rate: number, linkRate: number): Patch => ({
  ...grey,
  key: `${grey.key}-at-${rate}`,
  label: `${grey.label}, ${rate} Hz`,
  variableRate: rate,
  linkRate,
})

/** Greys near black and in the middle at several rates of variable refresh: whether light changes with the rate, as flicker. */
const planRefresh = ({ watching }: StepContext): StepPlan => {
  const { facts } = watching
  const rates = ratesOf(facts)
  const linkRate = linkRateOf(facts)
  const patches = watching.scale.rateGreys.flatMap((grey) =>
    rates.map((rate) => greyAt(grey, rate, linkRate)),
  )
  if (patches.length === 0) return done('not offered by the source')
  const read = readHere(facts)
  const missing = patches.filter(
    (p) => !read.has(p.key) && !facts.leftOut.includes(p.key) && isOffered(p, facts.bench),
  )
  if (missing.length) return open({ kind: 'sweep', purpose: 'verify', changes: [], patches: missing })
  const rows = patches.flatMap((p): RefreshRow[] => {
    const own = read.get(p.key)
    return own ? [{ rate: p.variableRate!, level: p.signal[0], luminance: own.xyz[1], id: own.id }] : []
  })
  const levels = watching.scale.rateGreys.flatMap((grey): Array<RefreshFindings['levels'][number]> => {
    const own = rows.filter((r) => r.level === grey.signal[0])
    if (own.length < 2) return []
    const light = own.map((r) => r.luminance)
    const [low, high] = [Math.min(...light), Math.max(...light)]
    const mean = light.reduce((a, b) => a + b, 0) / light.length
    const chance = 3 * Math.SQRT2 * readingSigma(mean, facts.precision)
    const seen = high - low > Math.max(FLICKER_SEEN.share * mean, FLICKER_SEEN.luminance, chance)
    return [{ level: grey.signal[0], label: grey.label, change: (high - low) / Math.max(mean, 1e-6), seen }]
  })
  const seen = levels.filter((l) => l.seen)
  return done(seen.length ? 'light changes with the rate' : 'steady', {
    findings: { refresh: { rows, levels } },
    limits: seen.map(({ label, change }) =>
      flickers({ label, change, slowest: rates[0]!, fastest: rates.at(-1)! }),
    ),
  })
}

export const refresh = defineStep({
  key: 'refresh',
  title: 'Variable refresh',
  restsOn: [...WHITE, 'peak-luminance', 'variable-refresh'],
  cases: gameCases,
  finds: ['refresh'],
  measures: false,
  plan: planRefresh,
})
