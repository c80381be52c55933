import { createElement, isValidElement, type ReactNode } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { beforeAll, describe, expect, it } from 'vitest'
import {
  type Block,
  composeGuideDocument,
  type GuideDocument,
  plainProse,
  valueGroups,
} from '#core/guide/document'
import { guideMarkdown, guideOutline } from '#core/guide/formats'
import { PdfBody } from '#paper'
import { guideOf } from '#tests/guide-of'
import { PrintSheet, PublicGuide } from '#ui/guide'

const PUBLISHED = { revision: 3, publishedAt: '2026-11-29T10:00:00.000Z' }

let guide: GuideDocument
beforeAll(async () => {
  const [film, game, desk] = [
    await guideOf(3, 'hdr-film'),
    await guideOf(3, 'sdr-game'),
    await guideOf(3, 'desktop'),
  ]
  const whole = composeGuideDocument([[desk.document], [game.document], [film.document]])!
  const [first, ...others] = whole.cases
  const [changed] = first!.values.filter((v) => v.changed)
  guide = {
    ...whole,
    words: 'An **editor** said this.',
    otherSizes: [48, 77],
    units: [...whole.units, { ...whole.units[0]!, unit: 'unit 2', serial: 'B' }],
    spread: [
      {
        case: first!.viewingCase.key,
        control: changed!.control,
        label: changed!.label,
        units: [
          { unit: 'unit 1', value: 1, shown: 'one of it' },
          { unit: 'unit 2', value: 2, shown: 'two of it' },
        ],
      },
      {
        case: first!.viewingCase.key,
        control: first!.values.filter((v) => v.changed)[1]!.control,
        label: 'Alike',
        units: ['unit 1', 'unit 2'].map((unit) => ({ unit, value: 7, shown: 'seven of it' })),
      },
    ],
    cases: [
      {
        ...first!,
        words: 'On this *case*.',
        worse: ['Contrast fell from 3,100 to 2,900.'],
        limits: ['Gain, red is at the end of its range.'],
        ending: ['Another minute by hand gains less than ΔE00 0.05.'],
        policy: { name: 'High contrast', preferences: ['Gamma 2.3 is preferred; it costs ΔE00 0.8.'] },
        looked: ['Sharpness: no rings around the lines.'],
        cautions: ['The lamp is bright.'],
        recheck: { derivedWith: '1.0', derivedOn: '2026-01-01', was: 0.4, is: 0.5 },
        copying: [{ block: 'two-point', units: 10_000, better: 0.7, worse: 0.2, alone: 2.4, copied: 1.9 }],
        play: {
          ...first!.play,
          latency: {
            rates: [60, 120],
            options: [
              {
                label: 'Quick',
                chosen: true,
                cells: [{ mean: 12.3, spread: 0.1, frames: 0.7, helps: true, saves: 31 }, null],
              },
            ],
            places: [{ position: 'top', cells: [4.1, null] }],
            sentences: ['Quick saves 31 ms at 60 Hz.'],
          },
          beside: ['HDR from the computer gets the same sharpness.'],
          response: [{ from: 0, to: 50, rise: 4.2, fall: null, riseOvershoot: 0.1, fallOvershoot: null }],
        },
      },
      ...others,
    ],
  }
})

/** All that a block says, a piece each. */
const wordsOf = (block: Block): string[] => {
  const own: Record<Block['kind'], () => string[]> = {
    facts: () => (block.kind === 'facts' ? block.rows.flat() : []),
    settings: () =>
      block.kind === 'settings'
        ? valueGroups(block.rows.map((r) => r.value)).flatMap((g) => {
            const rows = block.rows.filter((r) => g.values.includes(r.value) && r.value.changed)
            return rows.flatMap((r) => [r.value.label, r.value.shown, g.pages ? '' : r.shared])
          })
        : [],
    table: () =>
      block.kind === 'table'
        ? [
            ...block.head,
            ...block.rows.flatMap((r) => [
              r.label,
              r.note ?? '',
              ...r.cells.flatMap((c) => [c.text, c.note ?? '']),
            ]),
          ]
        : [],
    sentences: () => (block.kind === 'sentences' ? [...block.sentences] : []),
    pairs: () => (block.kind === 'pairs' ? block.pairs.flat() : []),
    prose: () => (block.kind === 'prose' ? [plainProse(block.text)] : []),
    chart: () => [],
  }
  return [...(block.kind === 'chart' ? [] : [block.title]), ...own[block.kind]()].filter(Boolean)
}

/** Text without marks, spaces and punctuation that only one way of showing it has. */
const bare = (text: string) =>
  text
    .replace(/<[^>]*>/g, ' ')
    .replace(/&(?:amp|lt|gt|quot|#x27);/g, (e) => ({ '&amp;': '&', '&lt;': '<', '&gt;': '>' })[e] ?? '’')
    .replace(/[\\*_|#.\s]+/g, ' ')
    .replace(/\s+/g, '')

/** All texts of React elements, their components called. */
const textsOf = (node: ReactNode): string => {
  if (typeof node === 'string' || typeof node === 'number') return `${node} `
  if (Array.isArray(node)) return node.map(textsOf).join('')
  if (!isValidElement<{ children?: ReactNode }>(node)) return ''
  const { type, props } = node
  return typeof type === 'function'
    ? textsOf((type as (p: object) => ReactNode)(props))
    : textsOf(props.children)
}

describe('a guide says the same wherever it stands', () => {
  const WAYS: ReadonlyArray<readonly [string, () => string]> = [
    ['as text', () => guideMarkdown(guide, PUBLISHED.revision, PUBLISHED.publishedAt)],
    [
      'on the web',
      () =>
        renderToStaticMarkup(
          createElement(PublicGuide, {
            guide: { document: guide, ...PUBLISHED, revisions: [], slug: 'x', reports: [] },
          }),
        ),
    ],
    [
      'on paper',
      () =>
        renderToStaticMarkup(
          createElement(PrintSheet, { document: guide, ...PUBLISHED, address: 'http://here' }),
        ),
    ],
    ['as PDF', () => textsOf(createElement(PdfBody, { outline: guideOutline(guide, PUBLISHED) }))],
  ]
  it.each(WAYS)('%s', (_, render) => {
    const { title, summary, about, head, cases, foot } = guideOutline(guide, PUBLISHED)
    const said = bare(render())
    const missing = [
      title,
      summary,
      about,
      ...[...head, ...cases.flatMap((c) => c.blocks), ...foot].flatMap(wordsOf),
    ]
      .filter((words) => words !== 'Settings, in menu order')
      .filter((words) => !said.includes(bare(words)))
    expect(missing).toEqual([])
  })
  it('has the summary of every case', () => {
    for (const [way, render] of WAYS)
      for (const c of guide.cases) expect(bare(render()), way).toContain(bare(c.summary))
  })
  it('says nothing of values that units have alike', () => {
    for (const [way, render] of WAYS) expect(render(), way).not.toContain('seven of it')
  })
  it('says of levels by the dozen once that another case keeps them too, on the web and on paper', () => {
    for (const [way, render] of WAYS.slice(1))
      expect(bare(render()), way).toContain(
        bare('once for this case and SDR game: set them again when you change'),
      )
  })
  it('has every part: of HDR, games, a desktop, what was not reached, and why it ended', () => {
    const keys = guideOutline(guide, PUBLISHED).cases.flatMap((c) => c.blocks.map((b) => b.key))
    for (const key of [
      ...[
        'settings',
        'hdr',
        'peak',
        'eotf',
        'latency',
        'response',
        'beside',
        'troubles',
        'go-back',
        'cautions',
      ],
      ...['method', 'before-after', 'worse', 'greys', 'gamma', 'looked', 'recheck', 'copying', 'spread'],
      ...['preferences', 'ending', 'limits', 'words'],
    ])
      expect(keys, key).toContain(key)
  })
})
