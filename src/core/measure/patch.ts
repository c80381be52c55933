import { z } from 'zod'
import { codeOf, type SignalFormat, Transfer } from '#core/signal'

const signal = z.number().min(0).max(1)
const triple = z.tuple([signal, signal, signal])

/**
 * How a patch lies on the screen. `window`: in the middle, around it the surround. `checkerboard`: five by five fields,
 * the one in the middle and every second one in the patch's colour, the others in the surround's. `pixels`: a window of single
 * pixels of patch and surround in turn, on black. `highlight`: a window, and a second one at the upper edge in colours of its own.
 * `ramp`: a window, and along the lower edge a ramp from black on the left to a colour of its own on the right.
 */
export const Layout = z.enum(['window', 'checkerboard', 'pixels', 'highlight', 'ramp'])
export type Layout = z.infer<typeof Layout>

/** A place on the screen, as shares of its width and height from the upper left corner; the middle is 0.5, 0.5. */
export const ScreenPosition = z.object({ x: signal, y: signal })
export type ScreenPosition = z.infer<typeof ScreenPosition>

/** A test colour: a name, one signal for each channel (0 for black to 1 for white), and how it lies on the screen. */
export const Patch = z.object({
  key: z.string().regex(/^[a-z0-9-]{1,40}$/),
  /** What people call it: "50 %", "Red". */
  label: z.string().min(1).max(40),
  /** Signals of red, green and blue, 0…1. */
  signal: triple,
  /** Share of the screen's area that a window covers; a tenth where it is left out. */
  window: z.number().positive().max(1).optional(),
  /** Signals around the patch; black where they are left out. */
  surround: triple.optional(),
  layout: Layout.optional(),
  /**
   * Place on the scale over which white is balanced, 0…1, where that is not the signal: the highest place is as bright as HDR is balanced to.
   * Null: a grey that stands on no such scale.
   */
  level: signal.nullable().optional(),
  /** A highlight elsewhere on the screen, for scenes: its signals, and the share of the screen that it covers. */
  highlight: z.object({ signal: triple, window: z.number().positive().max(0.25) }).optional(),
  /** A ramp along the lower edge, from black to these signals; the share of the screen's height that it takes. */
  ramp: z.object({ signal: triple, height: z.number().positive().max(0.25) }).optional(),
  /** Where on the screen the meter reads it; the middle where it is left out. */
  position: ScreenPosition.optional(),
  /** Pictures a second that the source really sends, on a link with variable refresh. */
  variableRate: z.number().positive().max(1000).optional(),
  /** Pictures a second of the link, where that is another than the signal's. */
  linkRate: z.number().positive().max(1000).optional(),
  /** Transfer that it is shown in, where that is another than the signal's: HLG beside PQ. */
  transfer: Transfer.optional(),
  /** Peak of the mastering display that is flagged with it, cd/m², where it is another than the signal's. */
  masteringPeak: z.number().positive().max(10_000).optional(),
  /** Seconds of black before it is shown, and for which it stands before it is read: bright patches tire eyes and panels. */
  timing: z
    .object({ dark: z.number().nonnegative().max(600), stands: z.number().nonnegative().max(600) })
    .optional(),
})
export type Patch = z.infer<typeof Patch>

/** Share of the screen that a patch covers where it does not say. */
export const USUAL_WINDOW = 0.1

/** Key of a patch in a kind of signal: the same signal means other light in another, and readings of the two are never mixed up. */
export const keyFor = (transfer: Transfer, key: string): string =>
  transfer === 'sdr' ? key : `${transfer}-${key}`

/** A signal, 0…1, so that 86.4 % is 0.864 and not its nearest sum of halves. */
const signalOfPercent = (percent: number): number => Math.round(1e4 * percent) / 1e6

/** A grey patch of a kind of signal. In: level in percent of the signal, 0…100; kind of signal. */
export const greyIn = (percent: number, transfer: Transfer): Patch => ({
  key: keyFor(transfer, `grey-${String(percent).replace('.', '-')}`),
  label: `${percent} %`,
  signal: [signalOfPercent(percent), signalOfPercent(percent), signalOfPercent(percent)],
})

/** A grey patch of SDR. In: level in percent, 0…100. */
export const grey = (percent: number): Patch => greyIn(percent, 'sdr')

/** Full red, green and blue and their mixtures, as signals. */
const SIX = {
  red: [1, 0, 0],
  green: [0, 1, 0],
  blue: [0, 0, 1],
  cyan: [0, 1, 1],
  magenta: [1, 0, 1],
  yellow: [1, 1, 0],
} as const
export type SixColour = keyof typeof SIX

/** One of the six colours at full signal. In: its name; kind of signal. */
export const sixColour = (name: SixColour, transfer: Transfer = 'sdr'): Patch => ({
  key: keyFor(transfer, name),
  label: `${name[0]!.toUpperCase()}${name.slice(1)}`,
  signal: [...SIX[name]],
})

/** A black screen, which is shown and never read. */
export const BLACK: Patch = { key: 'black-screen', label: 'Black', signal: [0, 0, 0], window: 1 }

/** Level of a grey patch in an ordinary window, 0…1, or undefined for a coloured one or another layout. */
export const greyLevel = ({
  signal: [r, g, b],
  window,
  surround,
  layout,
  level,
  highlight,
  ramp,
  position,
  variableRate,
}: Patch): number | undefined =>
  level !== null &&
  (highlight ?? ramp ?? position ?? variableRate) === undefined &&
  r === g &&
  g === b &&
  (window === undefined || window === USUAL_WINDOW) &&
  (surround === undefined || surround.every((s) => s === 0)) &&
  (layout === undefined || layout === 'window')
    ? (level ?? r)
    : undefined

/** What a source and a meter offer beside windows in the middle of the screen, at the signal's own transfer and rate. */
export interface Offers {
  readonly layouts: readonly Layout[]
  readonly transfers?: readonly Transfer[]
  /** The meter can be moved over the screen. */
  readonly positions?: boolean
  /** Rates between which the source varies, Hz. */
  readonly variableRefresh?: { readonly slowest: number; readonly fastest: number }
}

/** Whether a patch can be shown and read; every source shows windows in the signal's own transfer. */
export const isOffered = (
  { layout = 'window', highlight, ramp, transfer, position, variableRate }: Patch,
  { layouts, transfers = [], positions = false, variableRefresh }: Offers,
): boolean =>
  (layout === 'window' || layouts.includes(layout)) &&
  (!highlight || layouts.includes('highlight')) &&
  (!ramp || layouts.includes('ramp')) &&
  (!transfer || transfers.includes(transfer)) &&
  (!position || positions) &&
  (!variableRate ||
    (variableRefresh !== undefined &&
      variableRate >= variableRefresh.slowest &&
      variableRate <= variableRefresh.fastest))

/** Code values of a patch on a link. Out: one whole number for each channel, of the patch and of its surround. */
export const codesOf = (
  patch: Patch,
  { bitDepth, range }: Pick<SignalFormat, 'bitDepth' | 'range'>,
): { codes: [number, number, number]; surround: [number, number, number] } => {
  const of = ([r, g, b]: readonly [number, number, number]): [number, number, number] => [
    codeOf(r, bitDepth, range),
    codeOf(g, bitDepth, range),
    codeOf(b, bitDepth, range),
  ]
  return { codes: of(patch.signal), surround: of(patch.surround ?? [0, 0, 0]) }
}
