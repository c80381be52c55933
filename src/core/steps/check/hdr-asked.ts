import { deltaEItp, type XYZ, xyToXyz, xyzToUv } from '#core/colorimetry'
import { detailEndsOf, judgeHlg } from '#core/hdr'
import { type ChannelAlone, HDR_SWEEPS, pqTargetOf } from '#core/measure'
import { targetOn } from '#core/target'
import type { RouteContext } from '../facts/context'
import { keyOf, type RouteReading } from '../facts/facts'
import type { AskedHdr, ColourAtLuminance } from '../facts/findings'
import { sayLuminance } from '../facts/say-figures'

const KNOWN: ReadonlySet<string> = new Set(HDR_SWEEPS.flatMap((s) => s.patches.map((p) => p.key)))
const LUMINANCE_IN_KEY = /-at-(\d+)$/

/** Judges sweeps of HDR that were asked for. In: context in the state for watching. Out: verdict; undefined where none was read in the state of now. */
export const askedHdr = ({ facts, patches }: RouteContext): AskedHdr | undefined => {
  const here = keyOf(facts, facts.state)
  const newest = new Map<string, RouteReading>()
  for (const r of facts.readings)
    if (r.purpose === 'sweep' && KNOWN.has(r.patch.key) && keyOf(facts, r.state) === here)
      newest.set(r.patch.key, r)
  if (newest.size === 0) return undefined
  const read = [...newest.values()]
  const { white } = facts.targets
  const target = targetOn({ tone: 'pq', white }, { white: 10_000, black: 0 })
  const uv = (xyz: XYZ) => xyzToUv(xyz) as readonly [number, number]
  const colours = read.flatMap(({ patch, xyz, id }): ColourAtLuminance[] => {
    const at = LUMINANCE_IN_KEY.exec(patch.key)?.[1]
    if (at === undefined) return []
    const wanted = target.xyzOf(patch.signal)
    const own = { label: patch.label, white: Number(at), id }
    return [{ ...own, wanted: uv(wanted), is: uv(xyz), deltaE: deltaEItp(wanted, xyz) }]
  })
  const endOf = (channel: ChannelAlone): number | undefined =>
    detailEndsOf(
      read
        .filter(({ patch }) => patch.key.startsWith(`pq-channel-${channel}-`))
        .map(({ patch, xyz, sigma }) => {
          const open = Math.max(...patch.signal)
          const grey = { ...patch, signal: [open, open, open] as [number, number, number] }
          // Which of X, Y and Z a channel is read best by.
          const best = Math.max(...xyz)
          const target = pqTargetOf(grey, facts.signal)
          return {
            signal: open,
            target,
            xyz: xyToXyz(white, best),
            sigma: sigma ? Math.max(...sigma) : 0.002 * best,
          }
        }),
    )
  const ends = (['red', 'green', 'blue'] as const).flatMap((c) => {
    const end = endOf(c)
    return end === undefined ? [] : [[c, end] as const]
  })
  const hlgGreys = read.flatMap(({ patch, xyz, id }) =>
    patch.transfer === 'hlg' ? [{ signal: patch.signal[0], xyz, id }] : [],
  )
  const black = hlgGreys.find((g) => g.signal === 0)?.xyz[1] ?? newest.get(patches.black.key)?.xyz[1] ?? 0
  return { colours, channelEnds: Object.fromEntries(ends), hlg: judgeHlg(hlgGreys, black, white) }
}

/** What such sweeps come to, in sentences. In: verdict. Out: one for each sweep that was read. */
export const sayAskedHdr = ({ colours, channelEnds, hlg }: AskedHdr): string[] => {
  const whites = [...new Set(colours.map((c) => c.white))].sort((a, b) => a - b)
  const mean = (white: number) => {
    const own = colours.filter((c) => c.white === white)
    return own.reduce((sum, c) => sum + c.deltaE, 0) / own.length
  }
  const ends = (['red', 'green', 'blue'] as const).flatMap((c) => {
    const end = channelEnds[c]
    return end === undefined ? [] : [`${c} at ${sayLuminance(end)}`]
  })
  return [
    ...(whites.length
      ? [
          `Colours: ΔE ITP ${whites.map((w) => `${mean(w).toFixed(1)} on average with a white of ${sayLuminance(w)}`).join(', ')}.`,
        ]
      : []),
    ...(ends.length
      ? [`Detail ends in each channel alone, by the white it is part of: ${ends.join(', ')}.`]
      : []),
    ...(hlg
      ? [
          `HLG: ΔE ITP ${hlg.average.toFixed(1)} on average, ${hlg.worst.toFixed(1)} at worst; system gamma ${hlg.measuredGamma.toFixed(2)}, ${hlg.systemGamma.toFixed(2)} asked for at a peak of ${sayLuminance(hlg.white)}.`,
        ]
      : []),
  ]
}
