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
import type { ReactNode } from 'react'
import {
  type CaseDocument,
  chartLevels,
  type GuideDocument,
  type GuideMeasure,
  type GuideValue,
  groupsToSet,
  measuredIn,
  plainProse,
  sayBought,
  sayCopying,
  sayRecheck,
  TRANSFER_LABEL,
} from '#core/guide'
import { sayWhole } from '#core/measure'
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
  page1: { width: '22mm' },
  cell: { width: '22mm', textAlign: 'right' },
  figures: { flexDirection: 'row', gap: 14, marginTop: 4 },
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

/** Pages of a menu that are labelled alike: a line for each. */
const Pages = ({ name, values }: { name: string; values: readonly GuideValue[] }) => {
  const labels = [...new Set(values.map((v) => v.label))]
  const pages = [...new Set(values.map((v) => v.path.at(-1) ?? ''))]
  const first = values.find((v) => v.changed) ?? values[0]!
  return (
    <View style={{ marginTop: 4 }}>
      <Text style={style.soft}>
        {name}, {TRANSFER_LABEL[first.transfer].toLowerCase()}
      </Text>
      <View style={style.row}>
        <Text style={style.page1} />
        {labels.map((l) => (
          <Text key={l} style={[style.cell, style.soft]}>
            {l}
          </Text>
        ))}
      </View>
      {pages.map((page) => (
        <View key={page} style={style.row} wrap={false}>
          <Text style={style.page1}>{page}</Text>
          {labels.map((label) => (
            <Text key={label} style={style.cell}>
              {values.find((v) => v.path.at(-1) === page && v.label === label)?.shown ?? ''}
            </Text>
          ))}
        </View>
      ))}
    </View>
  )
}

const [WIDE, HIGH, LEFT] = [240, 84, 22] as const

/** Greyscale ΔE by level, before and after. */
const Errors = ({ before, after }: { before: GuideMeasure; after: GuideMeasure }) => {
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
          {`${l * 100} %`}
        </Text>
      ))}
    </Svg>
  )
}

const Said = ({ head, children }: { head: string; children: ReactNode }) => (
  <Text style={{ marginTop: 3 }}>
    <Text style={style.head}>{head} </Text>
    {children}
  </Text>
)

const Case = ({ of }: { of: CaseDocument }) => {
  const { display, method } = of
  const figures = measuredIn(of)
  const measured = [
    ...(of.hdr
      ? of.hdr.sentences
      : figures
        ? [`White ${sayWhole(figures.before.luminance)} → ${sayWhole(figures.after.luminance)} cd/m².`]
        : []),
    figures &&
      `Greyscale ΔE00 ${figures.before.whiteError.average.toFixed(1)} → ${figures.after.whiteError.average.toFixed(1)}.`,
    sayRecheck(of),
    sayBought(of),
    ...(of.copying ?? []).map(sayCopying),
    ...of.worse.map((w) => `Worse than before: ${w}`),
  ]
  return (
    <View>
      <View style={style.case} minPresenceAhead={60}>
        <Text>{of.viewingCase.label}</Text>
      </View>
      <Text style={style.soft}>
        {method.heading}: {display.unit}, {display.region}, firmware {display.firmware}, {method.measuredOn},{' '}
        {figures ? `${method.meter}.` : ''}
        {figures && method.correction ? ` Correction: ${method.correction}.` : ''}
      </Text>
      {of.words && <Text style={{ marginTop: 3 }}>{plainProse(of.words)}</Text>}
      <View style={[style.row, { marginTop: 3 }]}>
        <Text style={[style.what, style.soft]}>In menu order</Text>
        <Text style={[style.set, style.soft]}>Set to</Text>
        <Text style={style.comes}>Factory default</Text>
        <Text style={style.class}>Safe to copy?</Text>
      </View>
      {groupsToSet(of.values).map((g) =>
        g.pages ? (
          <Pages key={g.path} name={g.pages} values={g.values} />
        ) : (
          g.values.map((v) => <Row key={v.control} v={v} />)
        ),
      )}
      <View style={style.figures} wrap={false}>
        {figures && (
          <View>
            <Errors {...figures} />
            <Text style={[style.soft, { fontSize: 7 }]}>
              ΔE00 at each grey{of.hdr ? '' : ' level'}. Ring: out of the box. Disc: calibrated.
            </Text>
          </View>
        )}
        <Text style={{ flex: 1 }}>{measured.filter(Boolean).join(' ')}</Text>
      </View>
      {of.room && of.room.length > 0 && (
        <Said head="For your room, cd/m² → value:">
          {of.room.map((r) => `${sayWhole(r.expected)} → ${r.shown}`).join(' · ')}
        </Said>
      )}
      {of.troubles && of.troubles.length > 0 && (
        <Said head="If it looks wrong:">{of.troubles.map((t) => `${t.looks} ${t.do}`).join(' ')}</Said>
      )}
      {of.goBack && <Said head="To go back:">{of.goBack.join(' ')}</Said>}
      {of.cautions && of.cautions.length > 0 && <Said head="Take care:">{of.cautions.join(' ')}</Said>}
    </View>
  )
}

/** Draws a guide as a PDF file: what is to be set, in menu order, with its chart. What stays at its default is left out, and said to be. */
export const drawPdf = async (
  { document, revision, publishedOn }: { document: GuideDocument; revision: number; publishedOn: string },
  file: string,
): Promise<void> => {
  await renderToFile(
    <Document
      title={document.title}
      author={document.cases[0]!.method.desk}
      subject={document.summary}
      language="en"
    >
      <Page size="A4" style={style.page}>
        <Text style={style.title}>{document.title}</Text>
        <Text style={style.summary}>{document.summary}</Text>
        {document.words && <Text style={style.summary}>{plainProse(document.words)}</Text>}
        <Text style={style.soft}>
          Revision {revision}, {publishedOn}. Anything not listed stays at its default.
        </Text>
        {document.overwritten.map((o) => (
          <Text key={o.control}>
            One value of “{o.label}” for {o.cases.map((c) => `${c.label} (${c.shown})`).join(' and ')}: set it
            again when you change.
          </Text>
        ))}
        {document.cases.map((c) => (
          <Case key={c.viewingCase.key} of={c} />
        ))}
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
