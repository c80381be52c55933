import { sayRecheck } from '#core/guide/compose'
import {
  type Block,
  type CaseDocument,
  type GuideDocument,
  type GuideHdr,
  type GuideMeasure,
  measuredIn,
  rowOf,
  SCHOOL_LABEL,
  type SettingRow,
  type Spread,
  sayBought,
  sayCopying,
  saySpread,
  sentencesBlock,
  type TableRow,
  table,
  valueGroups,
} from '#core/guide/document'
import { sayDay, sayWhole } from '#core/measure'
import { playBlocks } from './games-blocks'

/** A viewing case of a guide, as blocks. */
export interface CaseOutline {
  readonly key: string
  readonly label: string
  readonly blocks: readonly Block[]
}

/** What a guide says, in its order: the web page, paper, text and files show the same blocks. */
export interface GuideOutline {
  readonly title: string
  readonly summary: string
  /** Display, revision and day. */
  readonly about: string
  /** Before the cases: an editor's words, and what holds for all of them. */
  readonly head: readonly Block[]
  readonly cases: readonly CaseOutline[]
  /** After the cases. */
  readonly foot: readonly Block[]
}

const cd = (value: number): string => (value >= 100 ? sayWhole(value) : String(Number(value.toPrecision(3))))

/** Settings of a case in menu order, each with what the display's memory adds to it. */
export const settingRows = (
  { cases, overwritten }: Pick<GuideDocument, 'cases' | 'overwritten'>,
  caseKey: string,
): SettingRow[] =>
  (cases.find((c) => c.viewingCase.key === caseKey)?.values ?? []).map((value) => {
    const own = overwritten.find((o) => o.control === value.control && o.cases.some((c) => c.key === caseKey))
    const others = own ? own.cases.filter((c) => c.key !== caseKey) : []
    return {
      value,
      shared: others.length
        ? `The display keeps one value for this case and ${others.map((c) => `${c.label} (${c.shown})`).join(', ')}: set it again when you change.`
        : '',
      sharers: others.map((c) => c.label),
    }
  })

/** The same of a group of rows, in one sentence; empty where none of them is shared. */
export const sayGroupShared = (rows: readonly SettingRow[]): string => {
  const shared = rows.filter((r) => r.sharers.length)
  const sharers = [...new Set(shared.flatMap((r) => r.sharers))]
  const which = shared.length === rows.length ? 'these values' : `${shared.length} of these values`
  return sharers.length
    ? `The display keeps ${which} once for this case and ${sharers.join(', ')}: set them again when you change.`
    : ''
}

/** What HDR comes to: sentences, schools of tone mapping, the curve, peak by window. */
const hdrBlocks = (hdr: GuideHdr): Block[] => [
  ...sentencesBlock('hdr', 'HDR, measured', hdr.sentences),
  ...(hdr.schools.length > 1
    ? [
        {
          key: 'mapping',
          title: `Tone mapping: ${SCHOOL_LABEL[hdr.mapping]}`,
          kind: 'pairs' as const,
          pairs: hdr.schools.map((s) => [`${s.label}${s.chosen ? ', chosen' : ''}`, s.sentence] as const),
        },
      ]
    : sentencesBlock('mapping', 'Tone mapping', [`${SCHOOL_LABEL[hdr.mapping]}.`])),
  {
    key: 'eotf',
    title: 'EOTF: luminance on the screen by luminance in the signal',
    kind: 'chart',
    chart: 'eotf',
    hdr,
  },
  ...(hdr.peakByWindow.length
    ? [
        table(
          'peak',
          'Peak by window, cd/m²',
          ['Part of the screen', 'first second', 'after a minute'],
          hdr.peakByWindow.map((w) => ({
            label: `${Math.round(100 * w.window)} %`,
            cells: [
              { text: cd(w.first), ...(w.firstAt ? { note: `after ${w.firstAt.toFixed(1)} s` } : {}) },
              { text: cd(w.sustained), strong: true },
            ],
          })),
        ),
      ]
    : []),
]

/** Figures before and after. */
const comparedBlock = (before: GuideMeasure, after: GuideMeasure, hdr: boolean): Block => {
  const row = (term: string, label: string, of: (m: GuideMeasure) => string): TableRow => ({
    label,
    term,
    cells: [{ text: of(before) }, { text: of(after), strong: true }],
  })
  const whole = (value: number | null) => (value === null ? '–' : sayWhole(value))
  return {
    ...table(
      'before-after',
      'Before and after',
      ['', 'out of the box', 'calibrated'],
      [
        row('peak-white', hdr ? 'Brightest balanced grey, cd/m²' : 'White, cd/m²', (m) => whole(m.luminance)),
        row('greyscale', 'Greyscale ΔE00, luminance excluded', (m) => m.whiteError.average.toFixed(1)),
        row('greyscale', 'at worst', (m) => m.whiteError.worst.toFixed(1)),
        ...(before.natural && after.natural
          ? [
              row('memory-colours', `Memory colours, ${hdr ? 'ΔE ITP' : 'ΔE00'}`, (m) =>
                m.natural!.average.toFixed(1),
              ),
            ]
          : []),
        row('cct', 'White point, CCT, K', (m) => whole(m.cct)),
        ...(hdr
          ? []
          : [
              row('gamma', 'Gamma', (m) => m.gamma?.toFixed(2) ?? '–'),
              row('contrast', 'Contrast', (m) => whole(m.contrast)),
            ]),
      ],
    ),
    beside: true,
  }
}

const methodBlock = (of: CaseDocument): Block => {
  const { display, method, targets } = of
  const measured = measuredIn(of) !== undefined
  const rows: Array<readonly [string, string | undefined]> = [
    ['Unit', `${display.sizeInch} inch, ${display.region}, ${display.unit}, ${display.origin}`],
    ['Firmware', display.firmware],
    [measured ? 'Measured' : 'Set', sayDay(method.measuredOn)],
    ...(measured
      ? ([
          ['Meter', method.meter],
          ['Correction', method.correction],
          ['Patterns', method.patternSource],
        ] as const)
      : []),
    ['Signal', of.signal],
    ['Room', method.room],
    ...(measured
      ? ([
          ['Readings', sayWhole(method.readings)],
          [
            'Target',
            of.hdr
              ? `${targets.tone}, ${targets.white}`
              : `${targets.luminance} cd/m², ${targets.white}, ${targets.tone}`,
          ],
          ['Policy', of.policy?.name],
        ] as const)
      : []),
  ]
  return {
    key: 'method',
    title: method.heading,
    kind: 'facts',
    rows: rows.flatMap(([name, text]) => (text ? [[name, text] as const] : [])),
    beside: true,
  }
}

/** Values of the luminance control for rooms of other brightness. */
const roomBlocks = ({ room = [] }: CaseDocument): Block[] =>
  room.length
    ? [
        {
          ...table(
            'room',
            'For your room',
            ['White, cd/m²', 'set to'],
            room.map((r) => ({
              label: sayWhole(r.expected),
              ...(r.extrapolated ? { note: 'estimated' } : {}),
              cells: [{ text: r.shown, strong: true }],
            })),
          ),
          beside: true,
        },
      ]
    : []

/** How far values of units lie apart; not a number where one of them is none. */
const farthestOf = ({ units }: Spread): number => {
  const values = units.map((u) => Number(u.value))
  return Math.max(...values) - Math.min(...values)
}

/** Values that units of one size ended at, where they differ: one by one, and of levels and colours by the dozen how many, and how far. */
const spreadBlocks = (of: CaseDocument, { spread }: GuideDocument): Block[] => {
  const own = spread.filter((s) => s.case === of.viewingCase.key)
  const differing = own.filter((s) => new Set(s.units.map((u) => u.shown)).size > 1)
  const sentences = valueGroups(of.values).flatMap(({ pages, path, values }) => {
    const here = (all: readonly Spread[]) => all.filter((s) => values.some((v) => v.control === s.control))
    const group = here(differing)
    if (group.length === 0) return []
    const page = (pages ?? path).split(' › ').at(-1)
    if (!pages)
      return group.map(
        (s) => `${page} › ${s.label}: ${s.units.map((u) => `${u.shown} (${u.unit})`).join(', ')}.`,
      )
    const far = Math.max(...group.map(farthestOf))
    const by = Number.isFinite(far) ? `, by up to ${far}` : ''
    return [`${page}: ${group.length} of ${here(own).length} values differ${by}.`]
  })
  return sentencesBlock('spread', 'How units differ', sentences, { beside: true })
}

const measuredBlocks = (of: CaseDocument): Block[] => {
  const measured = measuredIn(of)
  if (!measured) return []
  const { before, after } = measured
  return [
    comparedBlock(before, after, of.hdr !== undefined),
    ...sentencesBlock(
      'worse',
      '',
      of.worse.map((w) => `Worse than before: ${w}`),
      { tone: 'worse', beside: true },
    ),
    {
      key: 'greys',
      title: `ΔE00 at each grey${of.hdr ? '' : ' level'}`,
      kind: 'chart',
      chart: 'greys',
      before,
      after,
      ...(of.hdr ? { reference: after.luminance } : {}),
      beside: true,
    },
    ...(of.hdr
      ? []
      : [
          {
            key: 'gamma',
            title: 'Gamma by level',
            kind: 'chart' as const,
            chart: 'gamma' as const,
            before,
            after,
            aim: of.aim ?? [],
            beside: true,
          },
        ]),
  ]
}

const caseOutline = (of: CaseDocument, guide: GuideDocument): CaseOutline => {
  const { key, label } = of.viewingCase
  const once = new Set(guide.shared.filter((s) => s.cases.includes(key)).map((s) => s.control))
  const aside = { beside: true }
  const { troubles = [] } = of
  return {
    key,
    label,
    blocks: [
      ...sentencesBlock('summary', '', guide.summary.startsWith(of.summary) ? [] : [of.summary]),
      ...(of.words ? [{ key: 'words', title: '', kind: 'prose' as const, text: of.words }] : []),
      {
        key: 'settings',
        title: 'Settings, in menu order',
        kind: 'settings',
        rows: settingRows(guide, key).filter((r) => !once.has(r.value.control)),
      },
      ...(of.hdr ? hdrBlocks(of.hdr) : []),
      ...(of.play ? playBlocks(of.play) : []),
      ...(troubles.length
        ? [
            {
              key: 'troubles',
              title: 'If it looks wrong',
              kind: 'pairs' as const,
              pairs: troubles.map((t) => [t.looks, t.do] as const),
            },
          ]
        : []),
      ...sentencesBlock(
        'go-back',
        'To go back',
        of.goBack?.length ? of.goBack : ['Reset the picture mode in the display’s own menu.'],
      ),
      ...sentencesBlock('cautions', 'Take care', of.cautions ?? []),
      methodBlock(of),
      ...measuredBlocks(of),
      ...sentencesBlock('looked', 'Looked at', of.looked ?? [], aside),
      ...sentencesBlock('recheck', 'Read again', [sayRecheck(of)], aside),
      ...sentencesBlock('bought', 'What each adjustment bought', [sayBought(of)], aside),
      ...roomBlocks(of),
      ...sentencesBlock(
        'copying',
        'What copying does',
        [...(of.copying ?? []).map(sayCopying), saySpread(of)],
        aside,
      ),
      ...spreadBlocks(of, guide),
      ...sentencesBlock('preferences', 'Preferences', of.policy?.preferences ?? [], aside),
      ...sentencesBlock('ending', 'Why it ended here', of.ending ?? [], aside),
      ...sentencesBlock('limits', 'Not reached, not judged', of.limits ?? [], aside),
    ],
  }
}

const listed = (sizes: readonly number[]) => sizes.join(', ').replace(/, (\d+)$/, ' and $1')

/** The outline of a guide. In: document; revision and the moment of publishing (ISO 8601). */
export const guideOutline = (
  guide: GuideDocument,
  { revision, publishedAt }: { readonly revision: number; readonly publishedAt: string },
): GuideOutline => {
  const { maker, model, sizeInch } = guide.display
  const shared = guide.shared.flatMap((s) => rowOf(guide.cases[0]!, s.control) ?? [])
  return {
    title: guide.title,
    summary: guide.summary,
    about: [
      `${maker} ${model}, ${sizeInch} inch`,
      `revision ${revision}`,
      sayDay(publishedAt),
      ...(guide.units.length > 1 ? [`${guide.units.length} units measured`] : []),
    ].join(', '),
    head: [
      ...(guide.words ? [{ key: 'words', title: '', kind: 'prose' as const, text: guide.words }] : []),
      ...(shared.length
        ? [
            ...sentencesBlock('shared', 'Once for the whole display', [
              'The display keeps one value of these, and it is right for every viewing case below.',
            ]),
            {
              key: 'shared-settings',
              title: '',
              kind: 'settings' as const,
              rows: shared.map((value) => ({ value, shared: '', sharers: [] })),
            },
          ]
        : []),
    ],
    cases: guide.cases.map((c) => caseOutline(c, guide)),
    foot: [
      ...sentencesBlock('copy', 'Safe to copy?', [
        'Copy: the same on every unit.',
        'Start here: right for ours, near for yours.',
        'This unit only: do not copy.',
      ]),
      ...(guide.otherSizes.length
        ? sentencesBlock('sizes', 'Other sizes', [
            `${listed(guide.otherSizes)} inch were not measured here. Switches are likely the same; luminance and white may not be.`,
          ])
        : []),
    ],
  }
}
