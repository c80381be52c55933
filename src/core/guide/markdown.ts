import { type GuideDocument, TRANSFER_LABEL } from './document'
import { type GuideHdr, SCHOOL_LABEL } from './hdr'

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

/** A guide as Markdown. In: document, revision number and the day of publishing (YYYY-MM-DD). */
export const guideMarkdown = (guide: GuideDocument, revision: number, publishedOn: string): string => {
  const { display, method, before, after } = guide
  const rows = guide.values.map(
    (v) =>
      `| ${cell([...v.path, v.label].join(' › '))} | ${v.changed ? `**${cell(v.shown)}**` : cell(v.shown)} | ${cell(v.comesAs)} | ${TRANSFER_LABEL[v.transfer]} | ${cell(v.why)} |`,
  )
  const compare = (name: string, a: string, b: string) => `| ${name} | ${a} | ${b} |`
  const lines = [
    `# ${cell(guide.title)}`,
    '',
    cell(guide.summary),
    '',
    `${cell(method.heading)}. ${cell(display.maker)} ${cell(display.model)} ${display.sizeInch} inch, ${cell(display.unit)}, firmware ${cell(display.firmware)}, ${cell(method.measuredOn)}. Revision ${revision}, ${publishedOn}.`,
    '',
    `## ${cell(guide.viewingCase.label)}`,
    '',
    '| Control | Set to | Factory default | Safe to copy? | Why |',
    '| --- | --- | --- | --- | --- |',
    ...rows,
    '',
    '## Before and after',
    '',
    '| | before | after |',
    '| --- | --- | --- |',
    compare(
      guide.hdr ? 'Brightest balanced grey, cd/m²' : 'White, cd/m²',
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
            `Memory colours, average ${guide.hdr ? 'ΔE ITP' : 'ΔE00'}`,
            before.natural.average.toFixed(2),
            after.natural.average.toFixed(2),
          ),
        ]
      : []),
    compare('White point, CCT, K', before.cct.toFixed(0), after.cct.toFixed(0)),
    ...(guide.hdr ? [] : [compare('Gamma', before.gamma?.toFixed(2) ?? '–', after.gamma?.toFixed(2) ?? '–')]),
    '',
    ...(guide.hdr ? hdrLines(guide.hdr) : []),
    ...guide.worse.map((w) => `Worse than before: ${cell(w)}`),
    ...(guide.policy?.preferences ?? []).map((p) => `Preference: ${cell(p)}`),
    ...(guide.ending ?? []).map((l) => `Why it ended here: ${cell(l)}`),
    ...(guide.limits ?? []).map((l) => `Not reached: ${cell(l)}`),
    `Meter: ${cell(method.meter)}. Patterns: ${cell(method.patternSource)}. ${method.readings} readings.`,
    '',
    'To go back: reset the picture mode in the display’s own menu.',
    '',
  ]
  return lines.join('\n')
}
