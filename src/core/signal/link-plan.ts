import { z } from 'zod'
import { type BitDepth, Chroma, type Range } from './format'
import {
  compressedBits,
  familyOf,
  LinkKey,
  type LinkLoad,
  linkLoad,
  linksBetween,
  type PixelFormat,
  sayLink,
} from './link'
import type { Arrival, DisplayInputs, LinkVerdict, SignalPath, SourceDevice, Wish } from './link-shapes'
import { timingOf } from './timing'

const NO_LOAD: LinkLoad = { needed: 0, available: 0, fits: false, steps: () => [] }

const socketLink = ({ socket, unlocked }: SignalPath): LinkKey =>
  socket.unlock && !unlocked ? socket.unlock.before : socket.link

/** All links that a path can use, from slow to fast. */
const linksOf = (path: SignalPath): LinkKey[] => linksBetween(path.source.link, path.cable, socketLink(path))

/** Rates are the same where they differ by the 1000/1001 of broadcast. */
const sameRate = (a: number, b: number) => Math.abs(a - b) < 0.002 * b
const offers = (formats: DisplayInputs['formats'], wish: Pick<Wish, 'width' | 'height' | 'rate'>) =>
  formats.some(
    (f) => f.width === wish.width && f.height === wish.height && f.rates.some((r) => sameRate(r, wish.rate)),
  )

/** What the source makes of a wish by itself at its rate. */
const fallen = ({ falls = [] }: SourceDevice, wish: Wish): Wish => {
  let out = wish
  for (const { fromRate, ...to } of falls.toSorted((a, b) => a.fromRate - b.fromRate))
    if (wish.rate >= fromRate - 0.5) out = { ...out, ...to }
  return out
}

const saySize = ({ width, height, rate }: Pick<Wish, 'width' | 'height' | 'rate'>) =>
  `${width} × ${height} at ${rate} Hz`

/** 4:2:0 goes over TMDS and FRL from 50 pictures of 2160 lines a second on (CTA-861-I, 7.5.10). */
const allows420 = (path: SignalPath, { height, rate }: Wish) =>
  familyOf(path.source.link) === 'packet' || (height >= 2160 && rate >= 49)

/** Why an end of the path does not do a wish, whatever the link between them carries. */
const refusals = (path: SignalPath, wish: Wish): string[] => {
  const { source, inputs } = path
  const out: string[] = []
  if (!offers(source.formats, wish)) out.push(`${source.name} does not send ${saySize(wish)}.`)
  if (!offers(inputs.formats, wish)) out.push(`The display does not take ${saySize(wish)}.`)
  if (!source.bitDepths.includes(wish.bitDepth))
    out.push(`${source.name} does not send ${wish.bitDepth} bit.`)
  if (!inputs.bitDepths.includes(wish.bitDepth)) out.push(`The display does not take ${wish.bitDepth} bit.`)
  if (!source.chroma.includes(wish.chroma)) out.push(`${source.name} does not send ${wish.chroma}.`)
  if (!inputs.chroma.includes(wish.chroma)) out.push(`The display does not take ${wish.chroma}.`)
  if (!source.ranges.includes(wish.range)) out.push(`${source.name} does not send ${wish.range} range.`)
  if (wish.chroma === '4:2:0' && !allows420(path, wish))
    out.push('4:2:0 goes over this link from 2160 lines at 50 Hz on.')
  if (wish.variableRefresh) out.push(...variableTroubles(path, wish))
  return out
}

const variableTroubles = ({ source, inputs }: SignalPath, { rate }: Wish): string[] => {
  const ends: Array<[string, { slowest: number; fastest: number } | undefined]> = [
    [source.name, source.variableRefresh],
    ['The display', inputs.variableRefresh],
  ]
  const out = ends.flatMap(([who, does]) => {
    if (!does) return [`${who} has no variable refresh.`]
    return rate > does.fastest + 0.5 || rate < does.slowest
      ? [`${who} varies its rate between ${does.slowest} and ${does.fastest} Hz; ${rate} Hz is outside.`]
      : []
  })
  const [a, b] = [source.variableRefresh, inputs.variableRefresh]
  if (a && b && Math.max(a.slowest, b.slowest) >= Math.min(a.fastest, b.fastest))
    out.push('Source and display have no rates in common to vary between.')
  return out
}

/** The slowest link that carries a wish, plainly if any does, otherwise compressed; undefined where none does. */
const carriedBy = (
  path: SignalPath,
  links: readonly LinkKey[],
  wish: Wish,
): { link: LinkKey; format: PixelFormat } | undefined => {
  const timing = timingOf(wish.width, wish.height, wish.rate)
  const plain: PixelFormat = { bitDepth: wish.bitDepth, chroma: wish.chroma }
  const link = links.find((l) => linkLoad(l, timing, plain).fits)
  if (link) return { link, format: plain }
  const last = links.at(-1)
  if (!last || !path.source.compressed || !path.socket.compressed) return undefined
  const bits = compressedBits(last, timing, plain)
  return bits === undefined ? undefined : { link: last, format: { ...plain, compressedTo: bits } }
}

/**
 * What becomes of a wish on a path. Out: what arrives, undefined where nothing does; the reasons and differences; the reckoning. What the source
 * changes by itself at a rate counts: a wish for full range at a rate at which the source falls to limited arrives as limited, and says so.
 */
export const planLink = (path: SignalPath, asked: Wish): LinkVerdict => {
  const wish = fallen(path.source, asked)
  const links = linksOf(path)
  if (links.length === 0)
    return {
      troubles: [
        `${sayLink(path.source.link)}, ${sayLink(path.cable)} and ${sayLink(path.socket.link)} are different kinds of link: adapters are not taken into account.`,
      ],
      load: NO_LOAD,
    }
  const timing = timingOf(wish.width, wish.height, wish.rate)
  const refused = refusals(path, wish)
  const differs = (['bitDepth', 'chroma', 'range'] as const).some((k) => wish[k] !== asked[k])
  const fell = differs
    ? [
        `${path.source.name} changes to ${wish.bitDepth} bit, ${wish.chroma}, ${wish.range} range on its own at ${wish.rate} Hz.`,
      ]
    : []
  const carried = carriedBy(path, links, wish)
  const link = carried?.link ?? links.at(-1)!
  const load = linkLoad(link, timing, carried?.format ?? wish)
  if (refused.length || !carried)
    return {
      link,
      load,
      troubles: [...fell, ...refused, ...(carried ? [] : [whyTooMuch(path, link, wish, timing)])],
    }
  const short = wish.chroma === '4:4:4' && path.socket.fullChroma !== undefined && !path.labelled
  return {
    link,
    load,
    arrives: { ...wish, ...carried.format, link, shownChroma: short ? '4:2:2' : wish.chroma },
    troubles: [
      ...fell,
      ...(short ? ['The display shows it as 4:2:2 until the input has its label for full chroma.'] : []),
    ],
  }
}

const whyTooMuch = (
  path: SignalPath,
  link: LinkKey,
  wish: Wish,
  timing: ReturnType<typeof timingOf>,
): string => {
  const narrowest = narrowestOf(path)
  const faster = path.socket.unlock && !path.unlocked ? linksOf({ ...path, unlocked: true }) : []
  const unlocking = faster.some((l) => linkLoad(l, timing, wish).fits)
  return `${saySize(wish)}, ${wish.bitDepth} bit, ${wish.chroma} is more than ${sayLink(link)} carries; ${narrowest}${unlocking ? ' Unlock the socket’s full rate: then it fits.' : ''}`
}

const narrowestOf = (path: SignalPath): string => {
  const rank = LinkKey.options
  const ends: Array<[string, LinkKey]> = [
    ['the source', path.source.link],
    ['the cable', path.cable],
    ['the socket', socketLink(path)],
  ]
  const least = Math.min(...ends.map(([, l]) => rank.indexOf(l)))
  const who = ends.filter(([, l]) => rank.indexOf(l) === least).map(([w]) => w)
  return `the limit is ${who.join(' and ')}.`
}

/** What pictures are for: what is given up first hangs on it. */
export const LinkUse = z.enum(['film', 'game', 'desktop'])
export type LinkUse = z.infer<typeof LinkUse>

/** From the best to what is given up last, for each use. Text needs every pixel's colour; HDR needs ten bits; film has half the chroma anyway. */
const PREFERRED: Readonly<Record<LinkUse, ReadonlyArray<readonly [BitDepth, Chroma]>>> = {
  film: [
    [12, '4:4:4'],
    [10, '4:4:4'],
    [12, '4:2:2'],
    [10, '4:2:2'],
    [12, '4:2:0'],
    [10, '4:2:0'],
    [8, '4:4:4'],
    [8, '4:2:2'],
    [8, '4:2:0'],
  ],
  game: [
    [12, '4:4:4'],
    [10, '4:4:4'],
    [12, '4:2:2'],
    [10, '4:2:2'],
    [10, '4:2:0'],
    [8, '4:4:4'],
    [8, '4:2:2'],
    [8, '4:2:0'],
  ],
  desktop: [
    [12, '4:4:4'],
    [10, '4:4:4'],
    [8, '4:4:4'],
    [12, '4:2:2'],
    [10, '4:2:2'],
    [8, '4:2:2'],
    [10, '4:2:0'],
    [8, '4:2:0'],
  ],
}

const COST: Readonly<Record<LinkUse, Readonly<Record<'depth' | 'chroma' | 'rate', string>>>> = {
  film: {
    depth: 'fewer steps in smooth gradients',
    chroma: 'film carries no more colour detail than 4:2:0, so that nothing is lost',
    rate: 'film needs 24 Hz',
  },
  game: {
    depth: 'steps in skies and shadows of HDR',
    chroma: 'colour of thin lines and text softens a little',
    rate: 'motion is less smooth and latency grows',
  },
  desktop: {
    depth: 'steps in smooth gradients, hardly seen in SDR',
    chroma: 'coloured text gets fringes',
    rate: 'the pointer moves less smoothly',
  },
}

/** A smaller wish that fits. */
export interface GivenUp {
  readonly wish: Wish
  readonly sentence: string
}

/**
 * What to give up so that a wish fits, the least first for its use; none where it fits as it is, or where nothing helps.
 */
export const giveUp = (path: SignalPath, wish: Wish, use: LinkUse): GivenUp[] => {
  if (planLink(path, wish).arrives) return []
  const order = PREFERRED[use]
  const from = order.findIndex(([d, c]) => d === wish.bitDepth && c === wish.chroma)
  const out: GivenUp[] = []
  for (const [bitDepth, chroma] of order.slice(from + 1)) {
    // As text 4:4:4 is more than 4:2:2, and that more than 4:2:0.
    if (bitDepth > wish.bitDepth || chroma > wish.chroma) continue
    const smaller = { ...wish, bitDepth, chroma }
    if (!planLink(path, smaller).arrives) continue
    const costs = [
      ...(bitDepth < wish.bitDepth ? [COST[use].depth] : []),
      ...(chroma < wish.chroma ? [COST[use].chroma] : []),
    ]
    out.push({ wish: smaller, sentence: `${bitDepth} bit, ${chroma} fits: ${costs.join('; ')}.` })
    if (out.length === 2) break
  }
  const slower = slowerThat(path, wish, use)
  const rank = (w: Wish) => order.findIndex(([d, c]) => d === w.bitDepth && c === w.chroma)
  // Slower as well as shorter of depth or chroma only where that leaves more of them than the full rate does.
  if (slower && !(out[0] && rank(slower) >= rank(out[0].wish))) {
    const whole = slower.bitDepth === wish.bitDepth && slower.chroma === wish.chroma
    out.push({
      wish: slower,
      sentence: `${slower.rate} Hz${whole ? '' : ` with ${slower.bitDepth} bit, ${slower.chroma}`} fits: ${COST[use].rate}.`,
    })
  }
  if (wish.variableRefresh && planLink(path, { ...wish, variableRefresh: false }).arrives)
    out.unshift({ wish: { ...wish, variableRefresh: false }, sentence: 'Without variable refresh it fits.' })
  return out
}

/** The fastest slower rate at which the wish fits, whole or with the least given up of depth and chroma. */
const slowerThat = (path: SignalPath, wish: Wish, use: LinkUse): Wish | undefined => {
  const rates = path.source.formats
    .filter((f) => f.width === wish.width && f.height === wish.height)
    .flatMap((f) => f.rates)
    .filter((r) => r < wish.rate)
    .sort((a, b) => b - a)
  for (const rate of rates)
    for (const [bitDepth, chroma] of [[wish.bitDepth, wish.chroma] as const, ...PREFERRED[use]]) {
      if (bitDepth > wish.bitDepth || chroma > wish.chroma) continue
      const slower = { ...wish, rate, bitDepth, chroma }
      const { arrives } = planLink(path, slower)
      // What the source makes something else of is not what was given up for.
      if (arrives?.bitDepth === bitDepth && arrives.chroma === chroma) return slower
    }
  return undefined
}

/** One size and rate of the table. */
export interface LinkRow {
  readonly width: number
  readonly height: number
  readonly rate: number
  /** The best that arrives for the use, undefined where nothing does. */
  readonly best?: Arrival
  /** What the source or the display says to it, where nothing arrives. */
  readonly why?: string
  /** Each chroma and depth: as it is, compressed, or not. */
  readonly cells: ReadonlyArray<{
    readonly bitDepth: BitDepth
    readonly chroma: Chroma
    readonly fits: 'fits' | 'compressed' | 'no'
  }>
}

/** The columns of the table. */
export const LINK_COLUMNS: ReadonlyArray<readonly [BitDepth, Chroma]> = Chroma.options.flatMap((chroma) =>
  ([8, 10, 12] as const).map((depth) => [depth, chroma] as const),
)

/**
 * All sizes and rates of a source on a socket at a glance, largest and fastest first. In: path; what it is for; range that is wanted; with variable
 * refresh where both ends have it at that rate.
 */
export const linkTable = (path: SignalPath, use: LinkUse, range: Range): LinkRow[] =>
  path.source.formats
    .flatMap(({ width, height, rates }) => rates.map((rate) => ({ width, height, rate })))
    .sort((a, b) => b.width * b.height - a.width * a.height || b.rate - a.rate)
    .map((size) => {
      const plan = (bitDepth: BitDepth, chroma: Chroma): LinkVerdict => {
        const wish: Wish = { ...size, bitDepth, chroma, range, variableRefresh: false }
        return planLink(path, { ...wish, variableRefresh: variableTroubles(path, wish).length === 0 })
      }
      const verdicts = LINK_COLUMNS.map(([bitDepth, chroma]) => ({
        bitDepth,
        chroma,
        verdict: plan(bitDepth, chroma),
      }))
      const of = ([depth, chroma]: readonly [BitDepth, Chroma]) =>
        verdicts.find((v) => v.bitDepth === depth && v.chroma === chroma)!.verdict
      const best = PREFERRED[use].map(of).find((v) => v.arrives)
      return {
        ...size,
        best: best?.arrives,
        why: best ? best.troubles[0] : of(PREFERRED[use].at(-1)!).troubles.at(-1),
        cells: verdicts.map(({ bitDepth, chroma, verdict: { arrives } }) => ({
          bitDepth,
          chroma,
          // What the source makes something else of does not arrive as it was asked for.
          fits:
            arrives?.bitDepth !== bitDepth || arrives.chroma !== chroma
              ? 'no'
              : arrives.compressedTo === undefined
                ? 'fits'
                : 'compressed',
        })),
      }
    })
