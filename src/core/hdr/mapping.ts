import { USUAL_WINDOW } from '#core/measure'
import { detailEndsOf, endsSteep, kneeOf, scaleOf, softensFrom, unscaled } from './knee'
import { leftByPower, type WindowPeak } from './peak'
import type { HdrGrey } from './tracking'
import { CLIPS_WITHIN, MOVES_WITH_SCENE, MOVES_WITH_SURROUND, SCALED } from './tuning'

/** How a display brings light beyond its reach onto its panel. */
export type Mapping = 'clip' | 'roll-off' | 'dynamic'

/** A grey that was read alone on black, and in another scene: with a highlight elsewhere on the screen, or in a lit surround. Luminances in cd/m². */
export interface SceneReading {
  readonly target: number
  readonly alone: number
  readonly inScene: number
  /** What limiting of power alone would leave of it beside the highlight, as a share; 1 where the screen is mostly dark. */
  readonly limited: number
  /** It lay in a lit surround instead: zones of light lift a shade there a little, which is no mapping. */
  readonly surrounded?: true
}

/** What a display does with light beyond its reach, and where. */
export interface MappingVerdict {
  readonly mapping: Mapping
  /**
   * Target luminance at which it leaves PQ for good, cd/m²; of its own scale where it is darker than PQ all over. Undefined where no step follows
   * either.
   */
  readonly knee: number | undefined
  /** By how much it is brighter than PQ all over, as a factor. */
  readonly scale: number
  /** Target luminance of the last step that still changes the picture, cd/m². */
  readonly detailEnds: number | undefined
  /** How far a grey moves between scenes, as a share of its light; undefined where no scene was read. */
  readonly moves: number | undefined
}

/** Whether a grey that moves by a share of its light between scenes follows them; in a lit surround zones of light lift it a little. */
export const followsScene = (share: number, surrounded = false): boolean =>
  share > (surrounded ? MOVES_WITH_SURROUND : MOVES_WITH_SCENE)

/** How far a grey moves between scenes beyond what limiting of power explains, as a share of its light. */
const movesOf = ({ alone, inScene, limited }: SceneReading): number =>
  alone > 0 ? Math.abs(inScene / (alone * limited) - 1) : 0

/** Greys as bright as they would be if power limited nothing. In: greys in a window of a tenth; windows of the peak. */
const unlimited = (greys: readonly HdrGrey[], windows: readonly WindowPeak[]): HdrGrey[] => {
  // What the picture asks for loads the panel, not what power leaves of it.
  const peak = Math.max(0, ...windows.map((w) => w.first))
  if (peak === 0) return [...greys]
  return greys.map((g) => {
    const left = leftByPower(windows, (USUAL_WINDOW * Math.min(peak, g.target)) / peak)
    return { ...g, xyz: [g.xyz[0] / left, g.xyz[1] / left, g.xyz[2] / left], sigma: g.sigma / left }
  })
}

/**
 * Tells clipping, rolling off and dynamic mapping apart. A dynamic one moves greys that stand still with what else is on the screen, a clip ends
 * where it leaves PQ, a roll-off goes on beyond.
 * In: greys in one window as they hold, the same greys with and without a highlight elsewhere, windows of the peak. Out: verdict.
 */
export const mappingOf = (
  greys: readonly HdrGrey[],
  scenes: readonly SceneReading[],
  windows: readonly WindowPeak[] = [],
): MappingVerdict => {
  const detailEnds = detailEndsOf(greys)
  const strict = kneeOf(greys)
  // What power takes away is no mapping.
  const mapped = unlimited(greys, windows)
  const [softens, ends] = [softensFrom(mapped), detailEndsOf(mapped)]
  const scale = scaleOf(greys)
  const held = kneeOf(unscaled(greys))
  // A display that is too dark all over follows nowhere, or where its scatter lets it; one that is too bright crosses PQ where it maps.
  const knee = scale < 1 - SCALED.by ? held : (strict ?? held)
  const moves = scenes.length ? Math.max(...scenes.map(movesOf)) : undefined
  const dynamic = scenes.some((s) => followsScene(movesOf(s), s.surrounded))
  // What is told of mapping does not depend on how closely the display follows below.
  const soon = softens !== undefined && ends !== undefined && ends <= CLIPS_WITHIN * softens
  const clips = soon || endsSteep(mapped, ends)
  return {
    mapping: dynamic ? 'dynamic' : clips ? 'clip' : 'roll-off',
    knee,
    scale,
    detailEnds,
    moves,
  }
}
