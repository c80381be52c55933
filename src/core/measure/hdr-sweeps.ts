import { pqEotf, pqInverseEotf } from '#core/colorimetry'
import { codeOf, type SignalFormat, signalOf } from '#core/signal'
import { type Patch, USUAL_WINDOW } from './patch'
import {
  DENSE_STEPS,
  EOTF_LUMINANCES,
  GAME_WINDOWS,
  HDR_WINDOWS,
  HIGHLIGHT,
  MASTERED_PLACES,
  MASTERED_REST,
  RAMP_HEIGHT,
  SCENE_LUMINANCES,
  SUSTAINED,
} from './tuning'

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
 * Greys close about a luminance, for where a display leaves PQ: bright ones stand for twice as long, since a few percent decide. In: luminances
 * between which it leaves, cd/m². Out: greys between them.
 */
export const denseSweep = (from: number, to: number): Patch[] =>
  Array.from({ length: DENSE_STEPS }, (_, i) => {
    const grey = pqGrey(Number((from * (to / from) ** ((i + 1) / (DENSE_STEPS + 1))).toPrecision(3)))
    return grey.timing ? { ...grey, timing: { ...grey.timing, stands: 2 * grey.timing.stands } } : grey
  })

/** A window of full signal: in its first second, after a rest; and once it has stood, right after. In: share of the screen. */
export const peakWindow = (window: number): { readonly first: Patch; readonly sustained: Patch } => {
  const percent = Math.round(100 * window)
  const patch = (key: string, label: string, timing: NonNullable<Patch['timing']>): Patch => ({
    key: `pq-window-${percent}-${key}`,
    label: `Peak ${percent} %, ${label}`,
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
/** Windows of the peak, each in its first second and sustained. In: shares of the screen; all of them where they are left out. */
export const peakSweep = (windows: readonly number[] = HDR_WINDOWS): Patch[] =>
  windows.flatMap((window) => {
    const { first, sustained } = peakWindow(window)
    return [first, sustained]
  })

/** Peaks of mastering displays that are flagged beside the one that HDR is measured with, cd/m². */
export const MASTERING_PEAKS = [1000, 10_000] as const

/**
 * Greys about a display's peak under other mastering peaks: what it does with each. In: peak of the display, cd/m². Out: greys in the middle, just below
 * the peak and beyond it, for each peak that lies above them.
 */
export const masteringSweep = (peak: number): Patch[] =>
  MASTERING_PEAKS.flatMap((masteringPeak) =>
    MASTERED_PLACES.flatMap((share): Patch[] => {
      const grey = masteredGrey(share * peak)
      return pqEotf(grey.signal[1]) > masteringPeak
        ? []
        : [
            {
              ...grey,
              key: `pq-mastered-${masteringPeak}-${grey.key}`,
              label: `${grey.label}, mastered at ${masteringPeak.toLocaleString('en-GB')}`,
              masteringPeak,
            },
          ]
    }),
  )
/** The same greys under the peak that is flagged while HDR is measured: right beside the others, so that power has the same part in both. */
export const masteredGreys = (peak: number): Patch[] =>
  MASTERED_PLACES.map((share) => {
    const grey = masteredGrey(share * peak)
    return { ...grey, key: `pq-mastered-as-usual-${grey.key}` }
  })

/** A grey about the peak, rested: it comes after windows that a limiter of power recovers from. */
const masteredGrey = (luminance: number): Patch => {
  const grey = pqGrey(Number(luminance.toPrecision(2)))
  return { ...grey, timing: { dark: MASTERED_REST, stands: grey.timing?.stands ?? 0 } }
}

/** Bench seconds for which patches are rested and stand before they are read. */
export const restingSeconds = (patches: readonly Patch[]): number =>
  patches.reduce((sum, { timing }) => sum + (timing ? timing.dark + timing.stands : 0), 0)

/** What a sweep tells beside those of every case, by its first patch; null for others. */
export type SweepAbout = 'eotf' | 'scenes' | 'mastering' | 'peak' | 'refresh' | 'uniformity'
export const sweepAboutOf = (patches: readonly Patch[]): SweepAbout | null => {
  const { key = '', variableRate, position } = patches[0] ?? {}
  if (variableRate) return 'refresh'
  if (position) return 'uniformity'
  if (key.startsWith('pq-cd-')) return 'eotf'
  if (key.startsWith('pq-scene-')) return 'scenes'
  if (key.startsWith('pq-mastered-')) return 'mastering'
  return key.startsWith('pq-window-') ? 'peak' : null
}

/** Luminance of a surround against that of the grey within: enough to make another scene, too little to load the panel. */
const SURROUND_SHARE = 0.5

/**
 * Greys that are read alone, beside a highlight, in a lit surround and above a ramp that holds every level, which move them where a display maps tones scene by scene.
 * In: luminance of the grey, cd/m².
 */
export const scenePatches = (
  luminance: number,
): { readonly alone: Patch; readonly lit: Patch; readonly surrounded: Patch; readonly ramp: Patch } => {
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
    surrounded: {
      ...grey,
      key: `pq-scene-${nameOf(luminance)}-surrounded`,
      label: `${luminance} cd/m² in a lit surround`,
      surround: [...pqGrey(SURROUND_SHARE * luminance).signal],
      window: USUAL_WINDOW,
      timing: { dark: 6, stands: 6 },
    },
    ramp: {
      ...grey,
      key: `pq-scene-${nameOf(luminance)}-ramp`,
      label: `${luminance} cd/m² above a ramp`,
      ramp: { signal: [1, 1, 1], height: RAMP_HEIGHT },
      timing: { dark: 6, stands: 6 },
    },
  }
}
/** Greys alone and above a ramp, the grey alone of each first. */
export const rampSweep = (): Patch[] =>
  SCENE_LUMINANCES.flatMap((luminance) => {
    const { alone, ramp } = scenePatches(luminance)
    return [alone, ramp]
  })
export const sceneSweep = (): Patch[] =>
  SCENE_LUMINANCES.flatMap((luminance) => {
    const { alone, lit, surrounded } = scenePatches(luminance)
    return [alone, lit, surrounded]
  })
export { GAME_WINDOWS, HDR_WINDOWS, HIGHLIGHT, SCENE_LUMINANCES, SURROUND_SHARE }

/** Luminance that a patch's grey means as it goes over a link in whole codes, cd/m². SMPTE ST 2084. */
export const pqTargetOf = ({ signal }: Patch, { bitDepth, range }: SignalFormat): number =>
  pqEotf(signalOf(codeOf(signal[1], bitDepth, range), bitDepth, range))
