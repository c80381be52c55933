import Papa from 'papaparse'
import { ROLE_TERM } from '#core/display'
import { type GuideDocument, TRANSFER_LABEL } from '#core/guide/document'

/** What a spreadsheet would evaluate instead of showing it: formulas. A value that is a number with its sign is none. */
const FORMULA = /^[=@\t\r]|^[+-](?![\d.,]*$)/

/** The settings of a guide as a table: a line for each control of each case, in menu order. Comma-separated, RFC 4180, with a line of heads. */
export const guideCsv = ({ cases }: GuideDocument): string =>
  Papa.unparse(
    cases.flatMap((c) =>
      c.values.map((v) => ({
        case: c.viewingCase.label,
        menu: v.path.join(' › '),
        label: v.label,
        term: v.term ?? ROLE_TERM[v.role],
        'set to': v.shown,
        'factory default': v.comesAs,
        changed: v.changed ? 'yes' : 'no',
        'safe to copy': TRANSFER_LABEL[v.transfer],
        why: v.why,
        'how it was found': v.rule,
        readings: v.readings.length,
      })),
    ),
    { escapeFormulae: FORMULA },
  )
