import { writeFile } from 'node:fs/promises'
import { Resvg } from '@resvg/resvg-js'
import satori from 'satori'
import { CARD, chartLevels, type GuideDocument, measuredIn } from '#core/guide/document'
import { sayWhole } from '#core/measure'
import { FAMILIES, fontBytes } from './fonts'

const INK = '#161616'
const FAINT = '#6f6f6f'
const LINE = '#dcdcdc'
const LAMP = '#9a5b00'

type Style = Record<string, string | number>
interface Node {
  readonly type: string
  readonly props: Readonly<Record<string, unknown>>
}
const box = (style: Style, ...children: ReadonlyArray<Node | string>): Node => ({
  type: 'div',
  props: {
    style: { display: 'flex', ...style },
    children: children.length === 1 ? children[0] : [...children],
  },
})
const shape = (
  type: string,
  props: Readonly<Record<string, unknown>>,
  children: readonly Node[] = [],
): Node => ({
  type,
  props: { ...props, children: [...children] },
})

const CHART = { width: 1072, height: 280, left: 40, bottom: 30 } as const

type Measured = NonNullable<ReturnType<typeof measuredIn>>

/** Greyscale ΔE by level of a case, before and after, as it stands in the guide. */
const chartOf = ({ before, after }: Measured): Node => {
  const most = Math.max(3, ...[...chartLevels(before), ...chartLevels(after)].map((l) => l.whiteError))
  const high = CHART.height - CHART.bottom - 14
  const y = (error: number) => 14 + high - (error / most) * high
  const x = (level: number) => CHART.left + 20 + (level - 0.1) * ((CHART.width - CHART.left - 50) / 0.9)
  const line = (error: number) =>
    shape('path', {
      d: `M${CHART.left} ${y(error)}H${CHART.width}`,
      stroke: error === 1 ? LAMP : LINE,
      'stroke-width': 2,
      ...(error === 1 ? { 'stroke-dasharray': '8 6' } : {}),
    })
  const svg = shape('svg', { width: CHART.width, height: CHART.height, style: { position: 'absolute' } }, [
    line(0),
    line(1),
    line(Math.floor(most)),
    ...chartLevels(before).map((l) =>
      shape('circle', {
        cx: x(l.level),
        cy: y(l.whiteError),
        r: 9,
        fill: '#ffffff',
        stroke: FAINT,
        'stroke-width': 3,
      }),
    ),
    ...chartLevels(after).map((l) =>
      shape('circle', { cx: x(l.level), cy: y(l.whiteError), r: 9, fill: INK }),
    ),
  ])
  const text = (left: number, top: number, words: string) =>
    box({ position: 'absolute', left, top, fontSize: 20, color: FAINT }, words)
  return box(
    { position: 'relative', width: CHART.width, height: CHART.height },
    svg,
    ...[0, 1, Math.floor(most)].map((e) => text(8, y(e) - 14, String(e))),
    ...[0.1, 0.5, 1].map((l) => text(x(l) - 26, CHART.height - 26, `${l * 100} %`)),
  )
}

/** The card of a guide as elements: name, what was measured, its own chart of greys. */
const cardOf = (guide: GuideDocument): Node => {
  const { maker, model, sizeInch } = guide.display
  const first = guide.cases[0]!
  const measured = measuredIn(first)
  const said = () => {
    if (!measured) return `${first.method.heading}.`
    const { before, after } = measured
    const light = first.hdr
      ? ''
      : ` White ${sayWhole(before.luminance)} → ${sayWhole(after.luminance)} cd/m².`
    return `ΔE00 of greys ${before.whiteError.average.toFixed(1)} → ${after.whiteError.average.toFixed(1)}.${light}`
  }
  return box(
    {
      flexDirection: 'column',
      width: CARD.width,
      height: CARD.height,
      padding: 64,
      paddingTop: 52,
      background: '#ffffff',
      color: INK,
      fontFamily: FAMILIES.join(', '),
    },
    box({ fontSize: 26, color: FAINT }, `${first.method.desk}, settings guide`),
    box(
      { fontSize: `${maker} ${model} ${sizeInch}`.length > 24 ? 62 : 84, fontWeight: 600, marginTop: 6 },
      `${maker} ${model} ${sizeInch}`,
    ),
    box(
      { fontSize: 28, color: FAINT, marginTop: 4 },
      guide.cases.map((c) => c.viewingCase.label).join('  ·  '),
    ),
    box({ fontSize: 26, marginTop: 22, marginBottom: 8 }, `${first.viewingCase.label}: ${said()}`),
    ...(measured
      ? [
          chartOf(measured),
          box(
            { fontSize: 20, color: FAINT, marginTop: 8 },
            'Ring: out of the box. Disc: calibrated. Below the dashes: hard to see.',
          ),
        ]
      : []),
  )
}

/** Draws the card of a guide as a PNG file. */
export const drawCard = async (guide: GuideDocument, file: string): Promise<void> => {
  const svg = await satori(cardOf(guide) as never, {
    ...CARD,
    fonts: fontBytes().map((f) => ({ ...f, style: 'normal' as const })),
  })
  await writeFile(file, new Resvg(svg, { font: { loadSystemFonts: false } }).render().asPng())
}
