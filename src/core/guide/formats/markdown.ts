import { ROLE_TERM } from '#core/display'
import {
  type Block,
  type Cell,
  type GuideDocument,
  plainProse,
  type SettingRow,
  safeProse,
  TRANSFER_LABEL,
} from '#core/guide/document'
import { guideOutline } from './outline'

/** Keeps a text from being read as markup, in a table or at the beginning of a line. */
const cell = (text: string) =>
  text
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/[\\|*_`<>[\]#~&]/g, '\\$&')
    .replace(/^([-+=]|\d+[.)])/, (mark) => `${mark.slice(0, -1)}\\${mark.slice(-1)}`)

/** What an editor wrote, in Markdown already: its headings stand below those of the guide, and nothing of it runs anything. In: text; how deep it stands. */
const proseLines = (text: string, depth: number): string[] => [
  ...safeProse(text)
    .split('\n')
    .map((line) => line.replace(/^(#{1,6})(?=\s)/, `${'#'.repeat(depth)}$1`).replace(/(?<!\\)[<>]/g, '\\$&')),
  '',
]

const row = (cells: readonly string[]) => `| ${cells.join(' | ')} |`
const figure = ({ text, note, strong }: Cell) => {
  const said = `${cell(text)}${note ? ` (${cell(note)})` : ''}`
  return strong ? `**${said}**` : said
}

const settingLine = ({ value: v, shared }: SettingRow): string => {
  const rests =
    v.rule && v.readings.length ? `${v.rule.replace(/\.$/, '')}; rests on ${v.readings.length} readings.` : ''
  const why = [v.why, plainProse(v.words ?? ''), v.transferReason ?? '', shared, rests]
    .filter(Boolean)
    .join(' ')
  return row([
    `${cell([...v.path, v.label].join(' › '))} (${cell(v.term ?? ROLE_TERM[v.role])})`,
    v.changed ? `**${cell(v.shown)}**` : `${cell(v.shown)} (unchanged)`,
    cell(v.comesAs),
    TRANSFER_LABEL[v.transfer],
    cell(why),
  ])
}

/** A block as lines, after a heading of the third level. In: block; how deep an editor's own headings stand. */
const blockLines = (block: Block, depth: number): string[] => {
  const heading = block.title ? [`### ${cell(block.title)}`, ''] : []
  switch (block.kind) {
    case 'settings':
      return [
        ...heading,
        row(['Control', 'Set to', 'Factory default', 'Safe to copy?', 'Why']),
        '| --- | --- | --- | --- | --- |',
        ...block.rows.map(settingLine),
        '',
      ]
    case 'table':
      return [
        ...heading,
        row(block.head.map(cell)),
        row(block.head.map((_, i) => (i ? '---:' : '---'))),
        ...block.rows.map((r) =>
          row([`${cell(r.label)}${r.note ? ` (${cell(r.note)})` : ''}`, ...r.cells.map(figure)]),
        ),
        '',
      ]
    case 'facts':
      return [...heading, ...block.rows.map(([name, text]) => `- ${cell(name)}: ${cell(text)}`), '']
    case 'pairs':
      return [...heading, ...block.pairs.map(([term, text]) => `- **${cell(term)}** ${cell(text)}`), '']
    case 'sentences':
      return [...heading, ...block.sentences.flatMap((s) => [cell(s), ''])]
    case 'prose':
      return [...heading, ...proseLines(block.text, depth)]
    // A text has no pictures; their figures are in the guide's data.
    case 'chart':
      return []
  }
}

/** A guide as Markdown. In: document, revision number and the moment of publishing (ISO 8601). */
export const guideMarkdown = (guide: GuideDocument, revision: number, publishedAt: string): string => {
  const outline = guideOutline(guide, { revision, publishedAt })
  return [
    `# ${cell(outline.title)}`,
    '',
    cell(outline.summary),
    '',
    `${cell(outline.about)}.`,
    '',
    ...outline.head.flatMap((b) => blockLines(b, 0)),
    ...outline.cases.flatMap(({ label, blocks }) => [
      `## ${cell(label)}`,
      '',
      ...blocks.flatMap((b) => blockLines(b, 1)),
    ]),
    ...outline.foot.flatMap((b) => blockLines(b, 0)),
  ].join('\n')
}
