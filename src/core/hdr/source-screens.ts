import type { Mapping, MappingVerdict } from './mapping'
import type { WindowPeak } from './peak'
import type { Tracked } from './tracking'
import { NOT_BLACK } from './tuning'

/** What to enter on the HDR screens of a game source, cd/m², with a sentence for each. */
export interface SourceScreens {
  readonly mapping: Mapping
  /** Darkest luminance that still differs from black. */
  readonly black: number
  /** Where a symbol on a small white window is just gone. */
  readonly peak: number
  /** The same on a white that fills the screen. */
  readonly fullFrame: number | null
  readonly sentences: readonly string[]
}

/** Sources take steps of so many cd/m²; more digits than a slider has are no help. */
const rounded = (luminance: number) => {
  const step = luminance >= 1000 ? 50 : luminance >= 200 ? 10 : 5
  return step * Math.round(luminance / step)
}

const WHY: Readonly<Record<Mapping, string>> = {
  clip: 'The display follows the signal up to its peak and clips there: enter what it really reaches, and the source fits highlights to it.',
  'roll-off':
    'The display already rolls highlights off: enter where its detail ends, not its peak, or highlights are compressed twice.',
  dynamic:
    'The display maps every scene anew: enter where its detail ends. What a game sends and what is seen differ from scene to scene whatever is entered.',
}

/**
 * What the display's own HDR figures mean for the screens on which a source asks for them.
 * In: kind of tone mapping with the end of detail; peak by window; tracked greys, the darkest first; luminance of black, cd/m². Out: undefined where
 * no peak was read.
 */
export const sourceScreens = (
  { mapping, detailEnds }: Pick<MappingVerdict, 'mapping' | 'detailEnds'>,
  windows: readonly WindowPeak[],
  rows: ReadonlyArray<Pick<Tracked, 'target' | 'luminance'>>,
  blackLuminance: number,
): SourceScreens | undefined => {
  const small = windows.reduce<WindowPeak | undefined>(
    (best, w) => (!best || Math.abs(w.window - 0.1) < Math.abs(best.window - 0.1) ? w : best),
    undefined,
  )
  if (!small) return undefined
  const full = windows.find((w) => w.window >= 0.99)
  const reaches = mapping === 'clip' ? small.sustained : Math.max(detailEnds ?? 0, small.sustained)
  const seen = rows.find(
    (r) => r.target > 0 && r.luminance > blackLuminance * (1 + NOT_BLACK.share) + NOT_BLACK.luminance,
  )
  const black = seen?.target ?? 0
  const peak = rounded(reaches)
  const fullFrame = full ? rounded(full.sustained) : null
  return {
    mapping,
    black,
    peak,
    fullFrame,
    sentences: [
      WHY[mapping],
      black > 0.05
        ? `Black: shades below ${black.toPrecision(2)} cd/m² cannot be told from black here; raise the source’s black no further than that.`
        : 'Black: the lowest step. The first shades above black can be told apart.',
      `Small window: ${peak.toLocaleString('en-GB')} cd/m².`,
      ...(fullFrame === null ? [] : [`Full screen: ${fullFrame.toLocaleString('en-GB')} cd/m².`]),
    ],
  }
}
