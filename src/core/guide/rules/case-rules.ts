import { greyedOut, isOfPicture, rolesWhere, showValue, stateProblems } from '#core/display'
import type { CheckedCase } from './published-values'
import { MOST_NAMED, namesOf, outOfOrder, pathOf, publishedIn, withheldIn } from './published-values'

/** `error`: a guide with it cannot be published. `warning`: publishing needs a sentence that says why it stands. `note`: worth knowing. */
export type Level = 'error' | 'warning' | 'note'

/** What mends a finding, in one action. */
export type Mend =
  | { readonly kind: 'compose'; readonly label: string; readonly case: string }
  | { readonly kind: 'bench'; readonly label: string; readonly case: string }
  | { readonly kind: 'write'; readonly label: string; readonly place: string }
  | { readonly kind: 'measure-again'; readonly label: string; readonly case: string }
  | { readonly kind: 'review'; readonly label: string }
  | { readonly kind: 'recheck'; readonly label: string }

/** A rule about one case, as data: what it is called, how much it weighs, what it says of a case. */
interface CaseRule {
  readonly id: string
  readonly level: Level
  readonly find: (of: CheckedCase) => ReadonlyArray<{ readonly text: string; readonly control?: string }>
  readonly mend: (of: CheckedCase) => Mend
}

export const caseOf = ({ document }: CheckedCase) => document.viewingCase.key
const composeAgain = (of: CheckedCase): Mend => ({
  kind: 'compose',
  label: 'Compose this case again',
  case: caseOf(of),
})
const toBench = (of: CheckedCase): Mend => ({
  kind: 'bench',
  label: 'Open its session at the bench',
  case: caseOf(of),
})
const measureAgain = (of: CheckedCase): Mend => ({
  kind: 'measure-again',
  label: 'Verify it again at the bench',
  case: caseOf(of),
})

/** Values that a meter tells: one that rests on no reading was set by hand. */
const MEASURED = rolesWhere((r) => r.metered === true)

/** Rules about one viewing case. */
/** ΔE00 from which a nearer white is worth a sentence. */
const WORTH_SAYING = 0.5

export const CASE_RULES: readonly CaseRule[] = [
  {
    id: 'row-missing',
    level: 'error',
    find: (of) => {
      const withheld = withheldIn(of)
      const published = publishedIn(of)
      return of.sheet.controls
        .filter((c) => isOfPicture(c) && !withheld.has(c.key) && published[c.key] === undefined)
        .map((c) => ({ text: `${pathOf(c)} is missing from the table.`, control: c.key }))
    },
    mend: composeAgain,
  },
  {
    id: 'value-impossible',
    level: 'error',
    find: (of) => {
      const withheld = withheldIn(of)
      const published = publishedIn(of)
      const controls = of.sheet.controls.filter(
        (c) => isOfPicture(c) && !withheld.has(c.key) && published[c.key] !== undefined,
      )
      return stateProblems({ ...of.sheet, controls }, published).map((text) => ({ text }))
    },
    mend: composeAgain,
  },
  {
    id: 'control-twice',
    level: 'error',
    find: ({ document }) => {
      const keys = document.values.flatMap((v) => v.covers ?? [v.control])
      return [...new Set(keys.filter((k, i) => keys.indexOf(k) !== i))].map((control) => ({
        text: `“${document.values.find((v) => v.control === control)?.label ?? control}” stands in the table twice.`,
        control,
      }))
    },
    mend: composeAgain,
  },
  {
    id: 'greyed-out',
    level: 'error',
    find: (of) => {
      const final = publishedIn(of)
      return of.document.values.flatMap((v) => {
        const control = of.sheet.controls.find((c) => c.key === v.control)
        const why =
          control && v.changed && !v.covers && !v.withheld && greyedOut(of.sheet, control, final, of.kind)
        return why ? [{ text: `${why} Readers cannot set it.`, control: v.control }] : []
      })
    },
    mend: toBench,
  },
  {
    id: 'order-impossible',
    level: 'note',
    find: (of) =>
      outOfOrder(of).map(({ control, reason }) => ({
        text: `“${control.label}” stands above what it waits for: ${reason} Step by step, it is set after that.`,
        control: control.key,
      })),
    mend: toBench,
  },
  {
    id: 'not-verified',
    level: 'error',
    find: ({ verified, document }) =>
      verified || !document.after ? [] : [{ text: 'The final settings were not verified by a sweep.' }],
    mend: measureAgain,
  },
  {
    id: 'verified-otherwise',
    level: 'error',
    find: (of) =>
      of.verified
        ? Object.entries(publishedIn(of)).flatMap(([key, value]) => {
            const control = of.sheet.controls.find((c) => c.key === key)
            const was = of.verified![key]
            if (!control || was === value) return []
            return [
              {
                text: `“${control.label}” was ${was === undefined ? 'unknown' : showValue(control, was)} when it was verified, the guide says ${showValue(control, value)}.`,
                control: key,
              },
            ]
          })
        : [],
    mend: composeAgain,
  },
  {
    id: 'session-went-on',
    level: 'error',
    find: ({ outdated }) =>
      outdated
        ? [{ text: 'The session has gone on since this was composed: its settings are other ones now.' }]
        : [],
    mend: composeAgain,
  },
  {
    id: 'value-unseen',
    level: 'error',
    find: (of) => {
      const published = publishedIn(of)
      const controls = of.sheet.controls.filter(
        (c) => of.unseen.includes(c.key) && published[c.key] !== undefined,
      )
      return controls.length > 0
        ? [
            {
              text: `${namesOf(controls)} ${controls.length === 1 ? 'was' : 'were'} never set or checked where this case uses ${controls.length === 1 ? 'it' : 'them'}: what the guide says there is only assumed.`,
              control: controls[0]!.key,
            },
          ]
        : []
    },
    mend: toBench,
  },
  {
    id: 'strayed',
    level: 'warning',
    find: ({ sheet, strayed }) =>
      strayed.length > 0
        ? [
            {
              text: `Since this case was finished the display was changed where it keeps its values: ${strayed
                .slice(0, MOST_NAMED)
                .map((c) => {
                  const control = sheet.controls.find((one) => one.key === c.control)
                  return control
                    ? `“${control.label}” is ${showValue(control, c.from)} there now, the guide says ${showValue(control, c.to)}`
                    : c.control
                })
                .join(
                  '; ',
                )}${strayed.length > MOST_NAMED ? `; and ${strayed.length - MOST_NAMED} more` : ''}.`,
              control: strayed[0]!.control,
            },
          ]
        : [],
    mend: toBench,
  },
  {
    id: 'no-reading',
    level: 'warning',
    find: ({ document }) => {
      const bare = document.values.filter(
        (v) =>
          document.after && v.origin === 'set-by-hand' && MEASURED.has(v.role) && v.readings.length === 0,
      )
      return bare.length > 0
        ? [
            {
              text: `${namesOf(bare)} ${bare.length === 1 ? 'rests' : 'rest'} on no reading: set by hand.`,
              control: bare[0]!.control,
            },
          ]
        : []
    },
    mend: measureAgain,
  },
  {
    id: 'by-eye',
    level: 'warning',
    find: ({ document }) =>
      document.after
        ? []
        : [{ text: 'Set by eye: nothing of it was measured. The guide says so at its head.' }],
    mend: toBench,
  },
  {
    id: 'measuring-only',
    level: 'warning',
    find: ({ document, sheet }) =>
      document.values.flatMap((v) => {
        const control = sheet.controls.find((c) => c.key === v.control)
        const automatic =
          control?.kind === 'choice'
            ? control.choices.find((c) => /^auto/i.test(c.value) || /^auto/i.test(c.label))
            : undefined
        return v.role === 'range' && automatic && v.value !== automatic.value && v.changed
          ? [
              {
                text: `“${v.label}” is forced to ${v.shown}: that is for measuring. Readers want ${automatic.label}, unless it was seen to fail.`,
                control: v.control,
              },
            ]
          : []
      }),
    mend: toBench,
  },
  {
    id: 'hdr-dimmed',
    level: 'warning',
    find: ({ document, sheet, kind }) =>
      kind === 'sdr'
        ? []
        : document.values.flatMap((v) => {
            const control = sheet.controls.find((c) => c.key === v.control)
            return v.role === 'peak-luminance' &&
              control?.kind === 'number' &&
              Number(v.value) < control.range.max
              ? [
                  {
                    text: `“${v.label}” is ${v.shown} of ${control.range.max}: HDR highlights need all of it.`,
                    control: v.control,
                  },
                ]
              : []
          }),
    mend: toBench,
  },
  {
    id: 'signal-mismatch',
    level: 'warning',
    find: ({ signalProblems }) => signalProblems.map((text) => ({ text })),
    mend: measureAgain,
  },
  {
    id: 'could-be-nearer',
    level: 'warning',
    find: ({ couldGain }) =>
      couldGain > WORTH_SAYING
        ? [
            {
              text: `White is ΔE00 ${couldGain.toFixed(1)} further off than the nearest clicks would bring it.`,
            },
          ]
        : [],
    mend: toBench,
  },
  {
    id: 'firmware-old',
    level: 'warning',
    find: ({ document, newestFirmware }) =>
      newestFirmware && newestFirmware !== document.display.firmware
        ? [
            {
              text: `Measured with firmware ${document.display.firmware}; ${newestFirmware} is the newest that is known.`,
            },
          ]
        : [],
    mend: () => ({ kind: 'recheck', label: 'Read it again with the newer firmware' }),
  },
  {
    id: 'end-not-said',
    level: 'error',
    find: ({ document }) =>
      document.ending === undefined
        ? [{ text: 'It does not say why the calibration ended where it did.' }]
        : [],
    mend: composeAgain,
  },
  {
    id: 'preference-not-named',
    level: 'error',
    find: ({ document }) =>
      document.policy === undefined ? [{ text: 'It does not say which policy it follows.' }] : [],
    mend: composeAgain,
  },
  {
    id: 'caution-missing',
    level: 'error',
    find: ({ document, kind }) =>
      document.cautions === undefined && (kind !== 'sdr' || document.panelKind === 'projector')
        ? [{ text: 'Cautions for this kind of display are missing.' }]
        : [],
    mend: composeAgain,
  },
  {
    id: 'worse',
    level: 'note',
    find: ({ document }) =>
      document.worse.map((s) => ({ text: `Worse than before: ${s} The guide says so.` })),
    mend: toBench,
  },
]
