import { sayOvershoot } from '#core/guide/compose'
import {
  type Block,
  type Cell,
  type GamesAndDesktop,
  sentencesBlock,
  type TableRow,
  table,
} from '#core/guide/document'
import { sayWhole } from '#core/measure'

type Part<K extends keyof GamesAndDesktop> = NonNullable<GamesAndDesktop[K]>

const figure = (n: number | null | undefined, digits = 0): Cell => ({
  text: n === null || n === undefined ? '–' : n.toFixed(digits),
})
/** Luminances in cd/m² with as many digits as they are read with. */
const light = (n: number | null | undefined, small = 3): Cell => figure(n, n && n < 1 ? small : 2)
const hertz = (rate: number) => `${Math.round(rate)} Hz`
const chosen = (is: boolean): Pick<TableRow, 'note' | 'strong'> =>
  is ? { note: 'as set here', strong: true } : {}

/** Delays by option and rate, and where on the screen. */
const latencyBlocks = ({ rates, options, places, sentences }: Part<'latency'>): Block[] => [
  table(
    'latency',
    'Latency, ms, in the middle of the screen',
    ['Option', ...rates.map(hertz)],
    [
      ...options.map((o) => ({
        label: o.label,
        ...chosen(o.chosen),
        cells: o.cells.map((c) =>
          c
            ? {
                text: c.mean.toFixed(1),
                note: [
                  `${c.frames.toFixed(1)}\u00a0frames`,
                  ...(c.helps === null
                    ? []
                    : [c.helps ? `saves\u00a0${c.saves?.toFixed(0) ?? '–'}` : 'no\u00a0effect']),
                ].join(', '),
              }
            : figure(null),
        ),
      })),
      ...places
        .filter((p) => p.position !== 'middle')
        .map((p) => ({
          label: p.position === 'top' ? 'Top of the screen' : 'Bottom of the screen',
          note: 'as set here',
          cells: p.cells.map((c) => figure(c, 1)),
        })),
    ],
  ),
  ...sentencesBlock('latency-said', '', sentences),
]

/** What to enter on the HDR screens of a game source. */
const sourceScreensBlocks = ({ sentences }: Part<'sourceScreens'>): Block[] =>
  sentencesBlock('source-screens', 'On the source’s own HDR screens', sentences)

/** Light near black and in the middle at several rates of variable refresh. */
const refreshBlocks = ({ rates, levels }: Part<'refresh'>): Block[] => [
  table(
    'refresh',
    'Variable refresh: luminance, cd/m²',
    ['Grey', ...rates.map(hertz), 'Change'],
    levels.map((l) => ({
      label: l.label,
      cells: [
        ...l.luminance.map((v) => light(v)),
        {
          text: `${(100 * l.change).toFixed(1)} %`,
          note: l.seen ? 'seen as flicker' : 'not seen',
          strong: l.seen,
        },
      ],
    })),
  ),
]

/** Standard content in each value of the gamut control. */
const clampBlocks = (clamps: Part<'clamps'>): Block[] => [
  table(
    'clamps',
    'Standard content in each gamut',
    ['Gamut', 'Memory colours, average ΔE00', 'Gamma'],
    clamps.map((c) => ({
      label: c.label,
      ...chosen(c.chosen),
      cells: [figure(c.natural, 1), figure(c.gamma, 2)],
    })),
  ),
]

/** The screen as a map: each place with its light as a share of the brightest, and how far its colour is from the middle. */
const uniformityBlocks = ({ rows, evenness, worstUv }: Part<'uniformity'>): Block[] => {
  const sorted = (values: readonly number[]) => [...new Set(values)].sort((a, b) => a - b)
  const brightest = Math.max(...rows.map((r) => r.luminance))
  const percent = (share: number) => `${Math.round(100 * share)} %`
  const xs = sorted(rows.map((r) => r.x))
  return [
    table(
      'uniformity',
      'Uniformity: light as % of the brightest place, and Δu′v′ from the middle',
      ['Down the screen', ...xs.map((x) => `${percent(x)} across`)],
      sorted(rows.map((r) => r.y)).map((y) => ({
        label: percent(y),
        cells: xs.map((x) => {
          const row = rows.find((r) => r.x === x && r.y === y)
          return row
            ? { text: percent(row.luminance / brightest), note: row.deltaUv.toFixed(4) }
            : { text: 'not read' }
        }),
      })),
    ),
    ...sentencesBlock('uniformity-said', '', [
      `The darkest of ${rows.length} places gives ${percent(evenness)} of the light of the brightest; colour differs by up to ${worstUv.toFixed(4)} in u′v′ from the middle (about 0.004 begins to be seen).`,
    ]),
  ]
}

/** What each value of an option, an iris or a light source does; columns that nothing stands in are left out. */
const optionBlocks = (options: Part<'helpers'>): Block[] =>
  options.flatMap((h, i) => {
    type Row = (typeof h.rows)[number]
    const has = (key: keyof Row) => h.rows.some((r) => r[key] !== undefined)
    const ratio = (value: number | undefined): Cell => ({
      text: value === undefined ? '–' : `${sayWhole(value)}:1`,
    })
    const columns: ReadonlyArray<readonly [is: boolean, head: string, cell: (r: Row) => Cell]> = [
      [has('steps'), 'Steps seen', (r) => ({ text: `${r.steps ?? '–'} of ${h.steps}` })],
      [has('near'), `At ${h.near}, cd/m²`, (r) => figure(r.near, (r.near ?? 0) < 10 ? 2 : 0)],
      [has('middle'), 'Middle, cd/m²', (r) => figure(r.middle, 1)],
      [!has('near'), 'White, cd/m²', (r) => figure(r.luminance, r.luminance < 10 ? 2 : 0)],
      [has('onOff'), 'On/off contrast', (r) => ratio(r.onOff)],
      [has('board'), 'Checkerboard contrast', (r) => ratio(r.board)],
    ]
    const shown = columns.filter(([is]) => is)
    return [
      table(
        `option-${i}`,
        `“${h.label}”, ${h.term}`,
        ['Value', ...shown.map(([, head]) => head)],
        h.rows.map((r) => ({
          label: r.label,
          ...chosen(r.chosen),
          cells: shown.map(([, , cell]) => cell(r)),
        })),
      ),
      // Contrasts stand in the table already.
      ...sentencesBlock(`option-${i}-said`, '', has('onOff') ? [] : h.sentences),
    ]
  })

/** Response times of grey pairs. */
const responseBlocks = (response: Part<'response'>): Block[] => [
  table(
    'response',
    'Response times, 10 to 90 % of the light',
    ['Greys', 'Rise, ms', 'Fall, ms', 'Overshoot, up / down'],
    response.map((r) => ({
      label: `${r.from} % and ${r.to} %`,
      cells: [figure(r.rise, 1), figure(r.fall, 1), { text: sayOvershoot(r) }],
    })),
  ),
]

/** All that was found of games and of the desktop. */
export const playBlocks = (play: GamesAndDesktop): Block[] => [
  ...(play.latency ? latencyBlocks(play.latency) : []),
  ...(play.sourceScreens ? sourceScreensBlocks(play.sourceScreens) : []),
  ...(play.refresh ? refreshBlocks(play.refresh) : []),
  ...(play.clamps ? clampBlocks(play.clamps) : []),
  ...(play.uniformity ? uniformityBlocks(play.uniformity) : []),
  ...(play.helpers ? optionBlocks(play.helpers) : []),
  ...(play.response ? responseBlocks(play.response) : []),
  ...sentencesBlock('beside', 'Beside this case', play.beside ?? []),
]
