import { type CaseDocument, TRANSFER_LABEL } from './case-document'
import { type GuideDocument, sayBought } from './guide-document'
import { type GuideHdr, SCHOOL_LABEL } from './hdr'
import { sayCopying } from './transfer'

/** Keeps a text from being read as markup, in a table or at the beginning of a line. */
const cell = (text: string) =>
  text
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/[\\|*_`<>[\]#~&]/g, '\\$&')
    .replace(/^([-+=]|\d+[.)])/, (mark) => `${mark.slice(0, -1)}\\${mark.slice(-1)}`)

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

/** One viewing case as Markdown lines. */
const caseLines = (of: CaseDocument, guide: GuideDocument): string[] => {
  const { before, after, method, display } = of
  const { key } = of.viewingCase
  const one = (control: string) =>
    guide.overwritten.find((o) => o.control === control && o.cases.some((c) => c.key === key))
  const rows = of.values.map((v) => {
    const shared = one(v.control)
    const why = [
      v.why,
      v.words ?? '',
      v.transferReason ?? '',
      shared
        ? `One value for ${shared.cases.map((c) => `${c.label} (${c.shown})`).join(' and ')}: set it again when you change.`
        : '',
    ]
      .filter(Boolean)
      .join(' ')
    return `| ${cell([...v.path, v.label].join(' › '))} | ${v.changed ? `**${cell(v.shown)}**` : cell(v.shown)} | ${cell(v.comesAs)} | ${TRANSFER_LABEL[v.transfer]} | ${cell(why)} |`
  })
  const compare = (name: string, a: string, b: string) => `| ${name} | ${a} | ${b} |`
  const bought = sayBought(of)
  return [
    `## ${cell(of.viewingCase.label)}`,
    '',
    cell(of.summary),
    '',
    ...(of.words ? [...of.words.split(/\n{2,}/).flatMap((p) => [cell(p), ''])] : []),
    `${cell(method.heading)}. ${display.sizeInch} inch, ${cell(display.unit)}, firmware ${cell(display.firmware)}, ${cell(method.measuredOn)}. Meter: ${cell(method.meter)}. Patterns: ${cell(method.patternSource)}. ${method.readings} readings.`,
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
            (r) => `| ${r.expected.toFixed(0)}${r.extrapolated ? ' (estimated)' : ''} | ${cell(r.shown)} |`,
          ),
          '',
        ]
      : []),
    '### Before and after',
    '',
    '| | before | after |',
    '| --- | --- | --- |',
    compare(
      of.hdr ? 'Brightest balanced grey, cd/m²' : 'White, cd/m²',
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
            `Memory colours, average ${of.hdr ? 'ΔE ITP' : 'ΔE00'}`,
            before.natural.average.toFixed(2),
            after.natural.average.toFixed(2),
          ),
        ]
      : []),
    compare('White point, CCT, K', before.cct.toFixed(0), after.cct.toFixed(0)),
    ...(of.hdr ? [] : [compare('Gamma', before.gamma?.toFixed(2) ?? '–', after.gamma?.toFixed(2) ?? '–')]),
    '',
    ...(bought ? [cell(bought), ''] : []),
    ...(of.copying ?? []).flatMap((c) => [cell(sayCopying(c)), '']),
    ...(of.hdr ? hdrLines(of.hdr) : []),
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
    `${cell(guide.display.maker)} ${cell(guide.display.model)} ${guide.display.sizeInch} inch. Revision ${revision}, ${publishedOn}.`,
    '',
    ...guide.cases.flatMap((c) => caseLines(c, guide)),
    ...(guide.otherSizes.length ? [`Not measured: ${guide.otherSizes.join(', ')} inch.`, ''] : []),
  ].join('\n')
