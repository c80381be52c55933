import { pqEotf, pqInverseEotf } from '#core/colorimetry'
import { codeOf, type SignalFormat, signalOf } from '#core/signal'
import type { Patch } from './patch'
import { DENSE_STEPS, EOTF_LUMINANCES, HDR_WINDOWS, HIGHLIGHT, SCENE_LUMINANCES, SUSTAINED } from './tuning'

const nameOf = (luminance: number): string => String(luminance).replace('.', '-')
const round = (signal: number): number => Math.round(1e6 * signal) / 1e6

/** Seconds for which a patch of a luminance stands: power limits bright ones only after a while. */
const timingOf = (luminance: number): Pick<Patch, 'timing'> =>
  luminance >= SUSTAINED.from ? { timing: { dark: 0, stands: SUSTAINED.seconds } } : {}

/** A grey of PQ in a window of a tenth of the screen. In: luminance that its signal means, cd/m². */
export const pqGrey = (luminance: number): Patch => {
  const s = round(pqInverseEotf(luminance))
  return {
    key: `pq-cd-${nameOf(luminance)}`,
    label: `${luminance} cd/m²`,
    signal: [s, s, s],
    level: null,
    ...timingOf(luminance),
  }
}

/** The sweep that shows how a display follows PQ, the darkest first: what bright light does to a panel comes last. */
export const eotfSweep = (): Patch[] => EOTF_LUMINANCES.map(pqGrey)

/**
 * Greys close about a luminance, for where a display leaves PQ. In: luminances between which it leaves, cd/m². Out: greys between them.
 */
export const denseSweep = (from: number, to: number): Patch[] =>
  Array.from({ length: DENSE_STEPS }, (_, i) =>
    pqGrey(Number((from * (to / from) ** ((i + 1) / (DENSE_STEPS + 1))).toPrecision(3))),
  )

/** A window of full signal: in its first second, after a rest; and once it has stood, right after. In: share of the screen. */
export const peakWindow = (window: number): { readonly first: Patch; readonly sustained: Patch } => {
  const percent = Math.round(100 * window)
  const patch = (key: string, label: string, timing: NonNullable<Patch['timing']>): Patch => ({
    key: `pq-window-${percent}-${key}`,
    label: `Peak, ${percent} % window, ${label}`,
    signal: [1, 1, 1],
    window,
    level: null,
    timing,
  })
  return {
    first: patch('first', 'first second', { dark: 30, stands: 0 }),
    sustained: patch('sustained', 'sustained', { dark: 0, stands: 60 }),
  }
}
export const peakSweep = (): Patch[] =>
  HDR_WINDOWS.flatMap((window) => {
    const { first, sustained } = peakWindow(window)
    return [first, sustained]
  })

/** Greys that are read alone and beside a highlight, which moves them where a display maps tones scene by scene. */
export const scenePair = (luminance: number): { readonly alone: Patch; readonly lit: Patch } => {
  const grey = pqGrey(luminance)
  return {
    alone: {
      ...grey,
      key: `pq-scene-${nameOf(luminance)}`,
      label: `${luminance} cd/m² alone`,
      timing: { dark: 6, stands: 6 },
    },
    lit: {
      ...grey,
      key: `pq-scene-${nameOf(luminance)}-lit`,
      label: `${luminance} cd/m² beside a highlight`,
      highlight: { signal: [...HIGHLIGHT.signal], window: HIGHLIGHT.window },
      timing: { dark: 6, stands: 6 },
    },
  }
}
export const sceneSweep = (): Patch[] =>
  SCENE_LUMINANCES.flatMap((luminance) => {
    const { alone, lit } = scenePair(luminance)
    return [alone, lit]
  })
export { HDR_WINDOWS, HIGHLIGHT, SCENE_LUMINANCES }

/** Luminance that a patch's grey means as it goes over a link in whole codes, cd/m². SMPTE ST 2084. */
export const pqTargetOf = ({ signal }: Patch, { bitDepth, range }: SignalFormat): number =>
  pqEotf(signalOf(codeOf(signal[1], bitDepth, range), bitDepth, range))
