import type { CaseDocument } from './case-document'
import type { GuideDocument } from './guide-document'

/** A figure or value of a guide that a text may name instead of repeating it: it follows what is measured. */
export interface GuideField {
  /** Names it in a text: `{{sdr-dark/white}}`. */
  readonly key: string
  readonly label: string
  readonly shown: string
}

const fieldsOfCase = (of: CaseDocument): GuideField[] => {
  const { key, label } = of.viewingCase
  const { before, after, hdr, method, display } = of
  const figure = (name: string, what: string, value: number | null | undefined, digits: number, unit = '') =>
    value === null || value === undefined
      ? []
      : [{ key: `${key}/${name}`, label: `${what}, ${label}`, shown: `${value.toFixed(digits)}${unit}` }]
  return [
    ...figure('white', 'White', after?.luminance, 0, ' cd/m²'),
    ...figure('white-before', 'White out of the box', before?.luminance, 0, ' cd/m²'),
    ...figure('greys', 'Average error of greys', after?.whiteError.average, 1),
    ...figure('greys-before', 'Average error of greys out of the box', before?.whiteError.average, 1),
    ...figure('greys-worst', 'Worst error of greys', after?.whiteError.worst, 1),
    ...figure('colours', 'Average error of memory colours', after?.natural?.average, 1),
    ...figure(
      'colours-before',
      'Average error of memory colours out of the box',
      before?.natural?.average,
      1,
    ),
    ...figure('black', 'Black', after?.black, 3, ' cd/m²'),
    ...figure('contrast', 'Contrast', after?.contrast, 0),
    ...figure('gamma', 'Gamma', hdr ? undefined : after?.gamma, 2),
    ...figure('cct', 'White point', after?.cct, 0, ' K'),
    ...figure('cct-before', 'White point out of the box', before?.cct, 0, ' K'),
    ...figure('peak', 'Peak', hdr && Math.max(...hdr.peakByWindow.map((w) => w.sustained)), 0, ' cd/m²'),
    ...figure('knee', 'Follows PQ up to', hdr?.knee, 0, ' cd/m²'),
    { key: `${key}/readings`, label: `Readings, ${label}`, shown: String(method.readings) },
    { key: `${key}/firmware`, label: `Firmware, ${label}`, shown: display.firmware },
    { key: `${key}/mode`, label: `Picture mode, ${label}`, shown: of.baseMode },
    ...of.values
      .filter((v) => !v.covers && !v.withheld)
      .flatMap((v) => [
        { key: `${key}/set/${v.control}`, label: `${v.label}, ${label}`, shown: v.shown },
        ...(v.changed
          ? [
              {
                key: `${key}/default/${v.control}`,
                label: `${v.label} out of the box, ${label}`,
                shown: v.comesAs,
              },
            ]
          : []),
      ]),
  ]
}

/** Every figure and value of a guide that a text may name. In: guide as it is computed. */
export const fieldsOf = (guide: GuideDocument): GuideField[] => guide.cases.flatMap(fieldsOfCase)

/** A name of a figure in a text. */
const FIELD = /\{\{([a-z0-9/-]{1,120})\}\}/g

/** What of a figure would be read as markup. */
const escaped = (shown: string): string => shown.replace(/[\\*_`[\]<>|#~]/g, '\\$&')

/**
 * A text with the figures that it names. One that is there no longer keeps its name in braces, which the checks find. In: text; figures by key; whether the
 * text is Markdown.
 */
export const withFields = (text: string, fields: ReadonlyMap<string, string>, markdown = false): string =>
  text.includes('{{')
    ? text.replace(FIELD, (whole, key: string) => {
        const shown = fields.get(key)
        return shown === undefined ? whole : markdown ? escaped(shown) : shown
      })
    : text

/** Names in a text of figures that are there no longer, after those that are were put in. */
export const lostFields = (text: string): string[] => [...text.matchAll(FIELD)].map(([, key]) => key!)

/** A text in Markdown as plain words, for where nothing else can stand: a line for each paragraph, list entry or row of a table. */
export const plainProse = (markdown: string): string =>
  markdown
    .split('\n')
    .filter((line) => !/^\s*\|?[\s:|-]*-{3,}[\s:|-]*$/.test(line))
    .map((line) =>
      line
        .replace(/^\s*(?:#{1,6}|[-*+]|>)\s+/, '')
        .replace(/^\s*\|(.*)\|\s*$/, (_, cells: string) =>
          cells
            .split('|')
            .map((c) => c.trim())
            .join(', '),
        )
        .replace(/!?\[([^\]]*)\]\([^)\s]*\)/g, '$1')
        .replace(/(\*\*|__)(.+?)\1/g, '$2')
        .replace(/(?<![\w\\])([*_])(?!\s)(.+?)(?<![\s\\])\1(?!\w)/g, '$2')
        .replace(/\\([\\*_`[\]<>|#~{}().!+-])/g, '$1')
        .trim(),
    )
    .filter((line, i, all) => line !== '' || all[i - 1] !== '')
    .join('\n')
    .trim()
