import { sayWhole } from '#core/measure'
import { type CaseDocument, measuredIn, TRANSFER_LABEL } from './case-document'
import { type GuideDocument, sayBought } from './guide-document'
import { plainProse } from './guide-fields'
import { type GuideHdr, SCHOOL_LABEL } from './hdr'
import { playLines } from './play'
import { sayRecheck } from './recheck'
import { safeProse } from './safe-prose'
import { sayCopying, saySpread } from './transfer'

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

/** What HDR comes to: sentences, schools of tone mapping, peak by window. */
const hdrLines = (hdr: GuideHdr): string[] => [
  '## HDR, measured',
  '',
  ...hdr.sentences.map((s) => `- ${cell(s)}`),
  '',
  `Tone mapping: ${cell(SCHOOL_LABEL[hdr.mapping])}.`,
  ...hdr.schools.map((s) => `- ${cell(s.label)}${s.chosen ? ' (chosen)' : ''}: ${cell(s.sentence)}`),
  '',
  '| Part of the screen | Peak in the first second, cd/m² | After a minute, cd/m² |',
  '| --- | --- | --- |',
  ...hdr.peakByWindow.map(
    (w) =>
      `| ${Math.round(100 * w.window)} % | ${w.first.toFixed(0)}${w.firstAt ? ` (after ${w.firstAt.toFixed(1)} s)` : ''} | ${w.sustained.toFixed(0)} |`,
  ),
  '',
]

/** What was measured before and after, as a table. */
const measuredLines = (
  { before, after }: NonNullable<ReturnType<typeof measuredIn>>,
  hdr: boolean,
): string[] => {
  const compare = (name: string, a: string, b: string) => `| ${name} | ${a} | ${b} |`
  return [
    '### Before and after',
    '',
    '| | before | after |',
    '| --- | --- | --- |',
    compare(
      hdr ? 'Brightest balanced grey, cd/m²' : 'White, cd/m²',
      before.luminance.toFixed(1),
      after.luminance.toFixed(1),
    ),
    compare(
      'Greyscale, average ΔE00 (luminance excluded)',
      before.whiteError.average.toFixed(2),
      after.whiteError.average.toFixed(2),
    ),
    compare(
      'Greyscale, worst ΔE00 (luminance excluded)',
      before.whiteError.worst.toFixed(2),
      after.whiteError.worst.toFixed(2),
    ),
    ...(before.natural && after.natural
      ? [
          compare(
            `Memory colours, average ${hdr ? 'ΔE ITP' : 'ΔE00'}`,
            before.natural.average.toFixed(2),
            after.natural.average.toFixed(2),
          ),
        ]
      : []),
    compare('White point, CCT, K', sayWhole(before.cct), sayWhole(after.cct)),
    ...(hdr ? [] : [compare('Gamma', before.gamma?.toFixed(2) ?? '–', after.gamma?.toFixed(2) ?? '–')]),
    '',
  ]
}

/** One viewing case as Markdown lines. */
const caseLines = (of: CaseDocument, guide: GuideDocument): string[] => {
  const { method, display } = of
  const measured = measuredIn(of)
  const { key } = of.viewingCase
  const one = (control: string) =>
    guide.overwritten.find((o) => o.control === control && o.cases.some((c) => c.key === key))
  const rows = of.values.map((v) => {
    const shared = one(v.control)
    const why = [
      v.why,
      plainProse(v.words ?? ''),
      v.transferReason ?? '',
      shared
        ? `One value for ${shared.cases.map((c) => `${c.label} (${c.shown})`).join(' and ')}: set it again when you change.`
        : '',
    ]
      .filter(Boolean)
      .join(' ')
    return `| ${cell([...v.path, v.label].join(' › '))} | ${v.changed ? `**${cell(v.shown)}**` : cell(v.shown)} | ${cell(v.comesAs)} | ${TRANSFER_LABEL[v.transfer]} | ${cell(why)} |`
  })
  const bought = sayBought(of)
  const reread = sayRecheck(of)
  return [
    `## ${cell(of.viewingCase.label)}`,
    '',
    cell(of.summary),
    '',
    ...(of.words ? proseLines(of.words, 1) : []),
    `${cell(method.heading)}. ${display.sizeInch} inch, ${cell(display.unit)}, firmware ${cell(display.firmware)}, ${cell(method.measuredOn)}.${measured ? ` Meter: ${cell(method.meter)}${method.correction ? `, correction: ${cell(method.correction)}` : ''}.` : ''} ${method.room ? `Room: ${cell(method.room)}. ` : ''}${measured ? `Patterns: ${cell(method.patternSource)}.` : ''}${measured ? ` ${method.readings} readings.` : ''}`,
    '',
    '| Control | Set to | Factory default | Safe to copy? | Why |',
    '| --- | --- | --- | --- | --- |',
    ...rows,
    '',
    ...(of.room?.length
      ? [
          '| White, cd/m² | Set luminance to |',
          '| --- | --- |',
          ...of.room.map(
            (r) => `| ${sayWhole(r.expected)}${r.extrapolated ? ' (estimated)' : ''} | ${cell(r.shown)} |`,
          ),
          '',
        ]
      : []),
    ...(measured ? measuredLines(measured, of.hdr !== undefined) : []),
    ...(reread ? [cell(reread), ''] : []),
    ...(bought ? [cell(bought), ''] : []),
    ...(of.copying ?? []).flatMap((c) => [cell(sayCopying(c)), '']),
    ...(saySpread(of) ? [cell(saySpread(of)!), ''] : []),
    ...(of.hdr ? hdrLines(of.hdr) : []),
    ...(of.play ? ['', ...playLines(of.play)] : []),
    ...of.worse.map((w) => `Worse than before: ${cell(w)}`),
    ...(of.policy?.preferences ?? []).map((p) => `Preference: ${cell(p)}`),
    ...(of.ending ?? []).map((l) => `Why it ended here: ${cell(l)}`),
    ...(of.limits ?? []).map((l) => `Not reached: ${cell(l)}`),
    '',
    ...(of.troubles?.length
      ? ['### If it looks wrong', '', ...of.troubles.map((t) => `- ${cell(t.looks)} ${cell(t.do)}`), '']
      : []),
    '### To go back',
    '',
    ...(of.goBack?.length ? of.goBack : ['Reset the picture mode in the display’s own menu.']).map(cell),
    '',
    ...(of.cautions?.length ? ['### Take care', '', ...of.cautions.map((c) => `- ${cell(c)}`), ''] : []),
  ]
}

/** A guide as Markdown. In: document, revision number and the day of publishing (YYYY-MM-DD). */
export const guideMarkdown = (guide: GuideDocument, revision: number, publishedOn: string): string =>
  [
    `# ${cell(guide.title)}`,
    '',
    cell(guide.summary),
    '',
    ...(guide.words ? proseLines(guide.words, 0) : []),
    `${cell(guide.display.maker)} ${cell(guide.display.model)} ${guide.display.sizeInch} inch. Revision ${revision}, ${publishedOn}.`,
    '',
    ...guide.cases.flatMap((c) => caseLines(c, guide)),
    ...(guide.otherSizes.length ? [`Not measured: ${guide.otherSizes.join(', ')} inch.`, ''] : []),
  ].join('\n')
