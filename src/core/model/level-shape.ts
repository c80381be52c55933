import type { Aspect } from './aspect'
import type { ControlsByRole } from './controls-by-role'
import { FAULT_SIGN, type FaultKind } from './fault'
import {
  AT_REST,
  besides,
  type Driven,
  expectationOf,
  type Form,
  type KnownPage,
  type LevelChange,
  type LevelPage,
  type LevelShape,
  PAGES,
  PARAMETERS,
  pageSign,
  type Strength,
  weightAt,
} from './level-pages'
import { ALIKE, FAR_AWAY, LEVEL_SHAPE } from './tuning'

/** One change, with what each control had to do with it. */
interface Observed {
  readonly level: number
  readonly y: number
  readonly sigma: number
  readonly parts: ReadonlyArray<{
    readonly page: number
    readonly own: number
    readonly below: number
    readonly above: number | undefined
    readonly clicks: number
  }>
}

/**
 * How the level-by-level controls of a display act, as changes that were read tell it: the shape by search, the strengths of the pages
 * by least squares for each shape, both held by what is usual. Readings that fit nothing count little (Student's t), so that one control
 * at fault does not bend the picture of all.
 *
 * In: controls; changes by aspect; what earlier cases told of the pages; controls that are known to be at fault; by how much gains raise each
 * channel. Out: shape, as it usually is where too little was read.
 */
export const levelShapeOf = (
  byRole: ControlsByRole,
  changes: Readonly<Record<Aspect, readonly LevelChange[]>>,
  known: (page: LevelPage) => KnownPage | undefined = () => undefined,
  faults: ReadonlyMap<string, FaultKind> = new Map(),
  driven: Driven = AT_REST,
): LevelShape => {
  const expected = PAGES.map((page) => expectationOf(byRole, page, known(page)))
  const pageOf = new Map<string, { page: number; own: number; below: number; above: number | undefined }>()
  for (const [page, name] of PAGES.entries()) {
    const own = name === 'tone' ? byRole.levelTone : byRole.levelWhite.filter((c) => c.channel === name)
    const levels = own.map((c) => c.level)
    for (const c of own) {
      const [below, above] = besides(c.level, levels)
      pageOf.set(c.control.key, { page, own: c.level, below, above })
    }
  }
  const observed = (['red', 'blue', 'tone'] as const).flatMap((aspect) => {
    const own = changes[aspect]
    const usual = Math.sqrt(own.reduce((s, c) => s + c.change ** 2, 0) / Math.max(1, own.length))
    return own.flatMap((c): Observed[] => {
      const parts = [...c.clicks].flatMap(([key, clicks]) => {
        const place = pageOf.get(key)
        const fault = faults.get(key)
        const sign = place ? (fault ? FAULT_SIGN[fault] : 1) * pageSign(aspect, PAGES[place.page]!) : 0
        // What is far away moves nothing, whatever the form.
        const near = place && Math.abs(place.own - c.level) < FAR_AWAY
        return near && sign !== 0 && clicks !== 0 ? [{ ...place, clicks: sign * clicks }] : []
      })
      if (parts.length === 0) return []
      return [
        { level: c.level, y: c.change, sigma: Math.hypot(c.sigma, 0.05 * c.change, 0.02 * usual), parts },
      ]
    })
  })
  const growth = expected.flatMap((e) => (e.growth === undefined ? [] : [e.growth]))
  const usual = Object.fromEntries(PARAMETERS.map((p) => [p, LEVEL_SHAPE[p].mean])) as Form
  if (growth.length) usual.growth = growth.reduce((a, b) => a + b, 0) / growth.length
  const shapeOf = (form: Form, strength: readonly Strength[], seen: boolean): LevelShape => ({
    ...form,
    driven,
    strength: Object.fromEntries(PAGES.map((p, i) => [p, strength[i]!])) as Record<LevelPage, Strength>,
    seen,
  })
  if (observed.length < 3) return shapeOf(usual, expected, false)

  const places = (form: Form) => placesUnder(form, driven)
  const parts = partsOf(observed)
  const fitOf = (form: Form) => strengthsOf(observed, form, expected, places(form))
  const hasTone = observed.some((o) => o.parts.some((part) => PAGES[part.page] === 'tone'))
  const scoreOf = (form: Form): number => {
    let penalty = 0
    for (const p of PARAMETERS) {
      const { sigma, least, most } = LEVEL_SHAPE[p]
      if (form[p] < least || form[p] > most) return Number.POSITIVE_INFINITY
      // What an earlier case told of the growth is surer than what is usual.
      const held = p === 'growth' && growth.length ? 0.3 * sigma : sigma
      penalty += ((form[p] - usual[p]) / held) ** 2 / 2
    }
    // While the form is searched for, all channels have one strength.
    return (
      penalty +
      (hasTone ? fitOf(form).misfit : commonMisfit(observed, parts, form, expected[1]!, places(form)))
    )
  }
  // From three places a first step; the best of them goes on.
  const begun = [1, 0.92, 1.08].map((scale) => descend({ ...usual, scale }, scoreOf, [1], 1))
  const { form } = descend(
    begun.reduce((a, b) => (b.score < a.score ? b : a)).form,
    scoreOf,
    [1, 0.5, 0.25, 0.1],
    5,
  )
  return shapeOf(form, fitOf(form).strength, true)
}

/** Goes down from a form, one parameter after the other, with ever smaller steps. */
const descend = (
  from: Form,
  scoreOf: (form: Form) => number,
  shares: readonly number[],
  rounds: number,
): { form: Form; score: number } => {
  let form = from
  let score = scoreOf(form)
  for (const share of shares) {
    for (let round = 0, improved = true; improved && round < rounds; round++) {
      improved = false
      for (const p of PARAMETERS)
        for (const sign of [1, -1]) {
          const tried = { ...form, [p]: form[p] + sign * share * LEVEL_SHAPE[p].sigma }
          const s = scoreOf(tried)
          if (s < score - 1e-6) {
            form = tried
            score = s
            improved = true
            break
          }
        }
    }
  }
  return { form, score }
}

/** Place among control points of a signal on each page, pages by number. */
type Places = (level: number) => readonly number[]
const placesUnder = (form: Form, driven: Driven): Places => {
  const shares = PAGES.map((page) => driven[page] ** form.follows)
  return (level) => {
    const at = form.scale * level ** form.bend
    return shares.map((share) => at * share + form.shift)
  }
}

/** What single clicks had to do with changes, one after the other, as the search for a form goes through them. */
interface Parts {
  /** Of each change, where its parts begin; and where the last one's end. */
  readonly from: Int32Array
  readonly page: Uint8Array
  readonly own: Float64Array
  /** Steps to the neighbours below and above; 0 where there is none. */
  readonly down: Float64Array
  readonly up: Float64Array
  readonly clicks: Float64Array
}

const partsOf = (observed: readonly Observed[]): Parts => {
  const all = observed.flatMap(({ parts }) => parts)
  const from = new Int32Array(observed.length + 1)
  for (const [i, { parts }] of observed.entries()) from[i + 1] = from[i]! + parts.length
  return {
    from,
    page: Uint8Array.from(all, (part) => part.page),
    own: Float64Array.from(all, (part) => part.own),
    down: Float64Array.from(all, ({ own, below }) => Math.max(0, own - below)),
    up: Float64Array.from(all, ({ own, above }) => (above === undefined ? 0 : Math.max(0, above - own))),
    clicks: Float64Array.from(all, (part) => part.clicks),
  }
}

/** How badly changes fit a form where all channels have the strength that fits best. */
const commonMisfit = (
  observed: readonly Observed[],
  { from, page, own: place, down, up, clicks }: Parts,
  form: Form,
  expected: Strength,
  placesOf: Places,
): number => {
  const n = observed.length
  const own = new Float64Array(n)
  const { width, round, growth } = form
  for (let i = 0; i < n; i++) {
    const { level } = observed[i]!
    const at = placesOf(level)
    let sum = 0
    for (let k = from[i]!; k < from[i + 1]!; k++) {
      // As `weightAt`.
      const away = at[page[k]!]! - place[k]!
      const spacing = away <= 0 ? down[k]! : up[k]!
      const steps = spacing > 0 ? Math.abs(away) / (spacing * width) : 0
      if (steps < 1)
        sum += clicks[k]! * ((1 - round) * (1 - steps) + round * (0.5 + 0.5 * Math.cos(Math.PI * steps)))
    }
    own[i] = sum * level ** growth
  }
  const common = commonStrength(own, observed, expected)
  let misfit = ((common - expected.mean) / expected.sigma) ** 2 / 2
  for (let i = 0; i < n; i++) {
    const { y, sigma } = observed[i]!
    misfit += 2.5 * Math.log(1 + ((y - own[i]! * common) / sigma) ** 2 / 4)
  }
  return misfit
}

interface Row {
  readonly x: readonly number[]
  readonly y: number
  readonly sigma: number
}

/** Weights of changes under some strengths: what fits nothing counts little (Student's t, four degrees of freedom). */
const weightsOf = (rows: readonly Row[], k: readonly number[]): number[] =>
  rows.map(({ x, y, sigma }) => {
    const rest = (y - x.reduce((s, v, i) => s + v * k[i]!, 0)) / sigma
    return 5 / (4 + rest ** 2) / sigma ** 2
  })

/** The strength that fits all channels best were it one. In: what a strength of 1 would change; what changed. */
const commonStrength = (
  own: Float64Array,
  changed: ReadonlyArray<{ readonly y: number; readonly sigma: number }>,
  expected: Strength,
): number => {
  let common = expected.mean
  for (let round = 0; round < 3; round++) {
    let [xy, xx] = [expected.mean / expected.sigma ** 2, 1 / expected.sigma ** 2]
    for (let i = 0; i < own.length; i++) {
      const { y, sigma } = changed[i]!
      const rest = (y - own[i]! * common) / sigma
      const weight = 5 / (4 + rest * rest) / (sigma * sigma)
      xy += weight * own[i]! * y
      xx += weight * own[i]! * own[i]!
    }
    common = xy / xx
  }
  return common
}

/** Strengths of the four pages under a form, by reweighted least squares, and how badly the changes then fit. */
const strengthsOf = (
  observed: readonly Observed[],
  form: Form,
  expected: readonly Strength[],
  placesOf: Places,
): { strength: Strength[]; misfit: number } => {
  const rows = observed.map(({ level, y, sigma, parts }) => {
    const x = [0, 0, 0, 0]
    const size = level ** form.growth
    const at = placesOf(level)
    for (const { page, own, below, above, clicks } of parts) {
      const weight = weightAt(form, at[page]!, own, below, above)
      if (weight !== 0) x[page] = x[page]! + clicks * size * weight
    }
    return { x, y, sigma }
  })
  // Channels share one menu page and mostly one strength: first that of all, then each about it.
  const common = commonStrength(
    Float64Array.from(rows, ({ x }) => x[0]! + x[1]! + x[2]!),
    rows.map(({ x, y, sigma }) => ({ y: y - x[3]! * expected[3]!.mean, sigma })),
    expected[1]!,
  )
  const held = expected.map((e, p) => (p < 3 ? { mean: common, sigma: ALIKE * Math.abs(common) } : e))
  let k = held.map((e) => e.mean)
  let precision = held.map((e) => 1 / e.sigma ** 2)
  for (let round = 0; round < 3; round++) {
    const weights = weightsOf(rows, k)
    const next = [...k]
    precision = held.map((e) => 1 / e.sigma ** 2)
    // Pages meet only where green is looked at with red or blue: a few rounds of one after the other are enough.
    for (let pass = 0; pass < 2; pass++)
      for (let p = 0; p < next.length; p++) {
        let [xy, xx] = [held[p]!.mean / held[p]!.sigma ** 2, 1 / held[p]!.sigma ** 2]
        for (const [i, { x, y }] of rows.entries()) {
          if (x[p] === 0) continue
          let others = 0
          for (let o = 0; o < next.length; o++) if (o !== p) others += x[o]! * next[o]!
          xy += weights[i]! * x[p]! * (y - others)
          xx += weights[i]! * x[p]! ** 2
        }
        next[p] = xy / xx
        precision[p] = xx
      }
    k = next
  }
  let misfit = 0
  for (const { x, y, sigma } of rows) {
    const rest = (y - x.reduce((s, v, i) => s + v * k[i]!, 0)) / sigma
    misfit += 2.5 * Math.log(1 + rest ** 2 / 4)
  }
  for (const [p, e] of held.entries()) misfit += ((k[p]! - e.mean) / e.sigma) ** 2 / 2
  misfit += ((common - expected[1]!.mean) / expected[1]!.sigma) ** 2 / 2
  return {
    strength: k.map((mean, p) => ({
      mean,
      // Clicks of single levels differ a little from what their page does.
      sigma: Math.max(1 / Math.sqrt(precision[p]!), 0.06 * Math.abs(mean)),
    })),
    misfit,
  }
}
