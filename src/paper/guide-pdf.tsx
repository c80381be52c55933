import {
  Circle,
  Document,
  Font,
  Line,
  Page,
  renderToFile,
  StyleSheet,
  Svg,
  Text,
  View,
} from '@react-pdf/renderer'
import {
  type Block,
  chartLevels,
  type GuideDocument,
  type GuideMeasure,
  type GuideValue,
  TRANSFER_LABEL,
  type ValueGroup,
} from '#core/guide/document'
import { type GuideOutline, guideOutline, type PaperPart, pagesTable, paperParts } from '#core/guide/formats'
import { FAMILIES, shippedFonts } from './fonts'

for (const { name, weight, file } of shippedFonts())
  Font.register({ family: name, src: file, fontWeight: weight })
// Menu labels are never divided.
Font.registerHyphenationCallback((word) => [word])

const INK = '#161616'
const SOFT = '#555555'
const LINE = '#cccccc'
const style = StyleSheet.create({
  page: { fontFamily: [...FAMILIES], fontSize: 8.5, color: INK, padding: '12mm 12mm 14mm', lineHeight: 1.35 },
  title: { fontSize: 20, fontWeight: 600, lineHeight: 1.1 },
  summary: { marginTop: 4, marginBottom: 6 },
  soft: { color: SOFT },
  case: {
    fontSize: 13,
    fontWeight: 600,
    marginTop: 12,
    marginBottom: 3,
    borderBottomWidth: 1,
    borderColor: INK,
  },
  head: { fontWeight: 600, marginTop: 6 },
  row: { flexDirection: 'row', borderBottomWidth: 0.5, borderColor: LINE, paddingVertical: 1.2 },
  what: { flex: 5, paddingRight: 6 },
  set: { flex: 2, fontWeight: 600 },
  comes: { flex: 2, color: SOFT },
  class: { flex: 1.6, color: SOFT },
  first: { width: '34mm' },
  cell: { width: '22mm', textAlign: 'right' },
  foot: { position: 'absolute', bottom: '6mm', left: '12mm', right: '12mm', color: SOFT, fontSize: 7.5 },
})

const Row = ({ v }: { v: GuideValue }) => (
  <View style={style.row} wrap={false}>
    <Text style={style.what}>
      <Text style={style.soft}>{[...v.path, ''].join(' › ')}</Text>
      {v.label}
    </Text>
    <Text style={style.set}>{v.shown}</Text>
    <Text style={style.comes}>{v.comesAs}</Text>
    <Text style={style.class}>{v.changed ? TRANSFER_LABEL[v.transfer] : ''}</Text>
  </View>
)

/** A table of a few columns: pages of a menu that are labelled alike, delays by rate. */
const Table = ({ of }: { of: Pick<Extract<PaperPart, { kind: 'table' }>, 'title' | 'head' | 'rows'> }) => (
  <View style={{ marginTop: 4 }}>
    {of.title && <Text style={style.soft}>{of.title}</Text>}
    <View style={style.row}>
      {of.head.map((name, i) => (
        <Text key={name} style={i ? [style.cell, style.soft] : [style.first, style.soft]}>
          {name}
        </Text>
      ))}
    </View>
    {of.rows.map((row) => (
      <View key={row.label} style={style.row} wrap={false}>
        <Text style={style.first}>{row.label}</Text>
        {of.head.slice(1).map((column, i) => (
          <Text key={column} style={style.cell}>
            {row.cells[i]}
          </Text>
        ))}
      </View>
    ))}
  </View>
)

const [WIDE, HIGH, LEFT] = [240, 84, 22] as const

/** Greyscale ΔE by level, before and after. */
const Errors = ({
  before,
  after,
  reference,
}: {
  before: GuideMeasure
  after: GuideMeasure
  reference: number | undefined
}) => {
  const most = Math.max(3, ...[...chartLevels(before), ...chartLevels(after)].map((l) => l.whiteError))
  const y = (error: number) => 6 + (HIGH - 22) * (1 - error / most)
  const x = (level: number) => LEFT + 10 + ((level - 0.1) / 0.9) * (WIDE - LEFT - 20)
  return (
    <Svg viewBox={`0 0 ${WIDE} ${HIGH}`} width={WIDE} height={HIGH}>
      {[0, 1, Math.floor(most)].map((e) => (
        <Line
          key={e}
          x1={LEFT}
          x2={WIDE}
          y1={y(e)}
          y2={y(e)}
          strokeWidth={0.6}
          stroke={e === 1 ? '#9a5b00' : LINE}
          {...(e === 1 ? { strokeDasharray: '3 2' } : {})}
        />
      ))}
      {[0, 1, Math.floor(most)].map((e) => (
        <Text key={e} x={10} y={y(e) + 2.5} style={{ fontSize: 7, fill: SOFT }}>
          {String(e)}
        </Text>
      ))}
      {chartLevels(before).map((l) => (
        <Circle
          key={l.level}
          cx={x(l.level)}
          cy={y(l.whiteError)}
          r={2.6}
          fill="#fff"
          stroke={SOFT}
          strokeWidth={0.9}
        />
      ))}
      {chartLevels(after).map((l) => (
        <Circle key={l.level} cx={x(l.level)} cy={y(l.whiteError)} r={2.6} fill={INK} />
      ))}
      {[0.1, 0.5, 1].map((l) => (
        <Text key={l} x={x(l) - 8} y={HIGH - 4} style={{ fontSize: 7, fill: SOFT }}>
          {reference === undefined
            ? `${l * 100} %`
            : `${Number((reference * l ** 2.2).toPrecision(2))} cd/m²`}
        </Text>
      ))}
    </Svg>
  )
}

const Settings = ({ groups }: { groups: readonly ValueGroup[] }) => (
  <>
    <View style={[style.row, { marginTop: 3 }]}>
      <Text style={[style.what, style.soft]}>In menu order</Text>
      <Text style={[style.set, style.soft]}>Set to</Text>
      <Text style={style.comes}>Factory default</Text>
      <Text style={style.class}>Safe to copy?</Text>
    </View>
    {groups.map((g) =>
      g.pages ? (
        <Table key={g.path} of={pagesTable(g)} />
      ) : (
        g.values.map((v) => <Row key={v.control} v={v} />)
      ),
    )}
  </>
)

const Part = ({ part }: { part: PaperPart }) => {
  switch (part.kind) {
    case 'settings':
      return <Settings groups={part.groups} />
    case 'table':
      return <Table of={part} />
    case 'said':
      return (
        <Text style={{ marginTop: 3 }}>
          {part.head && <Text style={style.head}>{`${part.head}: `}</Text>}
          {part.text}
        </Text>
      )
    case 'chart':
      return (
        <View wrap={false} style={{ marginTop: 4 }}>
          <Errors before={part.before} after={part.after} reference={part.reference} />
          <Text
            style={[style.soft, { fontSize: 7 }]}
          >{`${part.title}. Ring: out of the box. Disc: calibrated.`}</Text>
        </View>
      )
  }
}

const Parts = ({ blocks }: { blocks: readonly Block[] }) =>
  blocks.flatMap(paperParts).map((part) => <Part key={`${part.key} ${part.kind}`} part={part} />)

/** What a PDF of a guide shows on its pages. */
export const PdfBody = ({ outline }: { outline: GuideOutline }) => (
  <>
    <Text style={style.title}>{outline.title}</Text>
    <Text style={style.summary}>{outline.summary}</Text>
    <Text style={style.soft}>{`${outline.about}. Anything not listed stays at its default.`}</Text>
    <Parts blocks={outline.head} />
    {outline.cases.map(({ key, label, blocks }) => (
      <View key={key}>
        <View style={style.case} minPresenceAhead={60}>
          <Text>{label}</Text>
        </View>
        <Parts blocks={blocks} />
      </View>
    ))}
    <Parts blocks={outline.foot} />
  </>
)

/** Draws a guide as a PDF file: what is to be set, in menu order, with its chart. What stays at its default is left out, and said to be. */
export const drawPdf = async (
  { document, revision, publishedAt }: { document: GuideDocument; revision: number; publishedAt: string },
  file: string,
): Promise<void> => {
  const outline = guideOutline(document, { revision, publishedAt })
  await renderToFile(
    <Document
      title={document.title}
      author={document.cases[0]!.method.desk}
      subject={document.summary}
      language="en"
    >
      <Page size="A4" style={style.page}>
        <PdfBody outline={outline} />
        <Text
          style={style.foot}
          fixed
          render={({ pageNumber, totalPages }) =>
            `${document.title}, revision ${revision}. Values are for the unit named here. Page ${pageNumber} of ${totalPages}.`
          }
        />
      </Page>
    </Document>,
    file,
  )
}
