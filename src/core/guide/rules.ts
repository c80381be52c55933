import {
  type Change,
  type Control,
  type ControlSheet,
  controlByRole,
  factoryValue,
  greyedOut,
  isOfPicture,
  rolesWhere,
  type State,
  showValue,
  stateProblems,
} from '#core/display'
import type { SignalKind } from '#core/signal'
import { settledIn } from './advice'
import type { CaseDocument, GuideValue } from './case-document'
import type { GuideDocument } from './guide-document'
import { lostFields } from './guide-fields'

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

/** Something that a rule found in a guide. */
export interface GuideFinding {
  /** Id of the rule. */
  readonly rule: string
  readonly level: Level
  readonly text: string
  /** Viewing case and control that it is about; empty where it is about the whole guide. */
  readonly case: string
  readonly control: string
  readonly mend: Mend
}

/** A case of a draft, with what only its session knows. */
export interface CheckedCase {
  readonly document: CaseDocument
  readonly sheet: ControlSheet
  readonly kind: SignalKind
  /** State that was verified last; undefined where none was. */
  readonly verified: State | undefined
  /** The session has gone on since this was composed. */
  readonly outdated: boolean
  /** In what the signal that arrived differs from the one that was sent. */
  readonly signalProblems: readonly string[]
  /** The newest firmware that is known of the model. */
  readonly newestFirmware: string
  /** Average ΔE00 of the greys that more adjustments would gain; 0 where none would. */
  readonly couldGain: number
  /** Controls whose value nobody has seen where this case uses it: neither set nor confirmed, read back or left by a reset. */
  readonly unseen: readonly string[]
  /** What the display holds otherwise by now in this case’s own places: `from` is there, `to` is what the case has left. */
  readonly strayed: readonly Change[]
}

/** A rule about one case, as data: what it is called, how much it weighs, what it says of a case. */
interface CaseRule {
  readonly id: string
  readonly level: Level
  readonly find: (of: CheckedCase) => ReadonlyArray<{ readonly text: string; readonly control?: string }>
  readonly mend: (of: CheckedCase) => Mend
}

const caseOf = ({ document }: CheckedCase) => document.viewingCase.key
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

/** What a table publishes: every control with its value, groups taken apart, values that are kept back left out. */
const publishedIn = ({ document, sheet }: CheckedCase): State => {
  const chooser = controlByRole(sheet, 'picture-mode')
  const mode = document.values.find((v) => v.control === chooser?.key)?.value
  return Object.fromEntries(
    document.values.flatMap((v) =>
      v.withheld || v.origin === 'not-measured'
        ? []
        : v.covers
          ? sheet.controls
              .filter((c) => v.covers?.includes(c.key))
              .map((c) => [c.key, factoryValue(c, mode === undefined ? undefined : String(mode))])
          : [[v.control, v.value]],
    ),
  )
}

const withheldIn = ({ document }: CheckedCase): ReadonlySet<string> =>
  new Set(document.values.flatMap((v) => (v.withheld ? (v.covers ?? [v.control]) : [])))

/** Names of controls in a sentence, the first of them where they are many. */
const namesOf = (of: ReadonlyArray<{ readonly label: string }>): string => {
  const named = of.slice(0, MOST_NAMED).map((c) => `“${c.label}”`)
  const more = of.length - named.length
  if (more > 0) return `${named.join(', ')} and ${more} more`
  return named.length > 1 ? `${named.slice(0, -1).join(', ')} and ${named.at(-1)}` : (named[0] ?? '')
}
const MOST_NAMED = 3

const pathOf = (v: Pick<GuideValue, 'path' | 'label'>) => [...v.path, v.label].join(' › ')

/** Rows that a reader who sets the table from the top down finds greyed out at that moment. */
const outOfOrder = (of: CheckedCase): Array<{ control: Control; reason: string }> => {
  const { sheet, kind, document } = of
  const final = publishedIn(of)
  const chooser = controlByRole(sheet, 'picture-mode')
  // The mode is chosen first, and brings its own values.
  let state: State = {
    ...settledIn(sheet, final, kind).factory,
    ...(chooser ? { [chooser.key]: final[chooser.key]! } : {}),
  }
  return document.values.flatMap((v) => {
    const control = sheet.controls.find((c) => c.key === v.control)
    if (!control || v.covers || v.withheld || !v.changed || control === chooser) return []
    const now = greyedOut(sheet, control, state, kind)
    state = { ...state, [control.key]: v.value }
    // What stays greyed out is another rule's.
    return now && !greyedOut(sheet, control, final, kind) ? [{ control, reason: now }] : []
  })
}

/** Rules about one viewing case. */
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
        (v) => document.after && v.changed && MEASURED.has(v.role) && v.readings.length === 0,
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
/** ΔE00 from which a nearer white is worth a sentence. */
const WORTH_SAYING = 0.5

/** A rule about the whole guide. */
interface GuideRule {
  readonly id: string
  readonly level: Level
  readonly find: (guide: GuideDocument) => ReadonlyArray<{
    readonly text: string
    readonly control?: string
    readonly case?: string
    readonly place?: string
  }>
}

/** Texts that people wrote, by place. */
const proseOf = (guide: GuideDocument): Array<{ place: string; text: string }> => [
  { place: 'title', text: guide.title },
  { place: 'summary', text: guide.summary },
  ...(guide.words ? [{ place: 'guide', text: guide.words }] : []),
  ...guide.cases.flatMap((c) => (c.words ? [{ place: `case:${c.viewingCase.key}`, text: c.words }] : [])),
  ...guide.cases.flatMap((c) =>
    c.values.flatMap((v) =>
      v.words ? [{ place: `value:${c.viewingCase.key}:${v.control}`, text: v.words }] : [],
    ),
  ),
]

/** What a figure in a text may be by its unit. */
type Unit = 'kelvin' | 'difference' | 'other'

/** What of a guide is no figure that a text may speak of. */
const NO_FIGURES: ReadonlySet<string> = new Set(['words', 'memory', 'readings', 'title', 'summary'])

/** Every number that a guide measured or sets, by the unit in which a text would give it. */
const figuresOf = (value: unknown, into: Record<Unit, number[]>, unit: Unit = 'other'): void => {
  if (typeof value === 'number') into[unit].push(value)
  else if (typeof value === 'string')
    for (const [, before, digits, after] of value.matchAll(WITH_UNIT))
      into[unitOf(before, after)].push(Number(digits!.replaceAll(',', '')))
  else if (Array.isArray(value)) for (const v of value) figuresOf(v, into, unit)
  else if (value && typeof value === 'object')
    for (const [key, v] of Object.entries(value))
      if (!NO_FIGURES.has(key))
        figuresOf(v, into, key === 'cct' ? 'kelvin' : ERRORS.test(key) ? 'difference' : unit)
}
/** Keys under which errors stand. */
const ERRORS = /error|nearBlack|natural|six|tracking|average|worst/i
const unitOf = (before: string | undefined, after: string | undefined): Unit =>
  before ? 'difference' : after?.trim() === 'K' ? 'kelvin' : 'other'
const WITH_UNIT =
  /(ΔE(?:00| ITP)?(?:\s+(?:is|was|of|from|to|at|now))*\s*)?(\d+(?:,\d{3})*(?:\.\d+)?)(\s*(?:cd\/m²|nits?\b|K\b|ms\b))?/g
/** Share by which a figure in a text may be rounded. */
const ROUNDED = 0.005

/** Figures with a unit in a text that are not those of the guide. */
const strangeFigures = (text: string, figures: Readonly<Record<Unit, readonly number[]>>): string[] =>
  [...text.matchAll(WITH_UNIT)].flatMap(([all, before, digits, unit]) => {
    if (!before && !unit) return []
    const number = Number(digits!.replaceAll(',', ''))
    const near = 0.51 * 10 ** -(digits!.split('.')[1]?.length ?? 0)
    const most = Math.max(near, unit ? ROUNDED * number : 0)
    const known = figures[unitOf(before, unit)]
    return known.some((f) => Math.abs(f - number) <= most) ? [] : [all.trim()]
  })

/** Rules about the whole guide. */
export const GUIDE_RULES: readonly GuideRule[] = [
  {
    id: 'words-missing',
    level: 'error',
    find: (guide) => (guide.summary.trim() ? [] : [{ text: 'The summary is empty.', place: 'summary' }]),
  },
  {
    id: 'one-memory',
    level: 'warning',
    find: ({ overwritten }) =>
      overwritten.map((o) => ({
        text: `The display keeps one value of “${o.label}” for ${o.cases.map((c) => `${c.label} (${c.shown})`).join(' and ')}. Both tables say so.`,
        control: o.control,
        case: o.cases[0]!.key,
      })),
  },
  {
    id: 'size-claimed',
    level: 'warning',
    find: (guide) =>
      proseOf(guide).flatMap(({ place, text }) =>
        guide.otherSizes
          .filter((size) => new RegExp(`\\b${size}\\b\\s*(?:-?\\s*inch|″|")`, 'i').test(text))
          .map((size) => ({ text: `${size} inch is spoken of, and was not measured.`, place })),
      ),
  },
  {
    id: 'figure-differs',
    level: 'warning',
    find: (guide) => {
      const figures: Record<Unit, number[]> = { kelvin: [], difference: [], other: [] }
      figuresOf(guide, figures)
      return proseOf(guide).flatMap(({ place, text }) =>
        strangeFigures(text, figures).map((figure) => ({
          text: `“${figure}” stands in the text, and nothing that was measured or is set comes to it.`,
          place,
        })),
      )
    },
  },
  {
    id: 'field-lost',
    level: 'error',
    find: (guide) =>
      proseOf(guide).flatMap(({ place, text }) =>
        lostFields(text).map((key) => ({
          text: `The text names a figure that is no longer there: {{${key}}}.`,
          place,
        })),
      ),
  },
  {
    id: 'other-sizes',
    level: 'note',
    find: ({ otherSizes }) =>
      otherSizes.length ? [{ text: `Not measured: ${otherSizes.join(', ')} inch. The guide says so.` }] : [],
  },
]

const WEIGHT: Readonly<Record<Level, number>> = { error: 0, warning: 1, note: 2 }

/** What the desk knows of a draft beside its cases. */
export interface DeskFacts {
  /** Keys of cases whose session is no longer there. */
  readonly gone: readonly string[]
  /** Keys of cases that came in a file: they were measured elsewhere. */
  readonly imported: readonly string[]
  /** A second name has approved it, or nothing in it was measured anew. */
  readonly reviewed: boolean
}

/** Rules about what the desk knows of a draft. */
const deskFindings = ({ cases }: GuideDocument, { gone, imported, reviewed }: DeskFacts): GuideFinding[] => [
  ...imported.map((key): GuideFinding => {
    const of = cases.find((c) => c.viewingCase.key === key)
    return {
      rule: 'measured-elsewhere',
      level: 'note',
      text: `Came in a file from ${of?.method.desk ?? 'another desk'}: its values and figures followed from its readings when it was imported.`,
      case: key,
      control: '',
      mend: { kind: 'write', label: 'Write about it', place: `case:${key}` },
    }
  }),
  ...gone.map(
    (key): GuideFinding => ({
      rule: 'source-gone',
      level: 'error',
      text: `The session that ${cases.find((c) => c.viewingCase.key === key)?.viewingCase.label ?? key} was measured in is no longer there: nothing can be checked. What is public stays as it is.`,
      case: key,
      control: '',
      mend: { kind: 'write', label: 'Write about it', place: `case:${key}` },
    }),
  ),
  ...(reviewed
    ? []
    : [
        {
          rule: 'not-reviewed',
          level: 'warning' as const,
          text: 'New measurements have not been reviewed.',
          case: '',
          control: '',
          mend: { kind: 'review' as const, label: 'Have it reviewed by a second name' },
        },
      ]),
]

/**
 * Checks a guide before it is published. In: draft; its cases with what their sessions know; what the desk knows beside them. Out: findings, errors
 * first.
 */
export const checkGuide = (
  guide: GuideDocument,
  cases: readonly CheckedCase[],
  desk: DeskFacts = { gone: [], imported: [], reviewed: true },
): GuideFinding[] => {
  const ofCases = cases.flatMap((of) =>
    CASE_RULES.flatMap((rule) =>
      rule.find(of).map(
        (found): GuideFinding => ({
          rule: rule.id,
          level: rule.level,
          text: found.text,
          case: caseOf(of),
          control: found.control ?? '',
          mend: rule.mend(of),
        }),
      ),
    ),
  )
  const ofGuide = GUIDE_RULES.flatMap((rule) =>
    rule.find(guide).map(
      (found): GuideFinding => ({
        rule: rule.id,
        level: rule.level,
        text: found.text,
        case: found.case ?? '',
        control: found.control ?? '',
        mend: {
          kind: 'write',
          label: 'Write about it',
          place: found.place ?? (found.case ? `case:${found.case}` : 'summary'),
        },
      }),
    ),
  )
  return [...ofCases, ...ofGuide, ...deskFindings(guide, desk)].toSorted(
    (a, b) => WEIGHT[a.level] - WEIGHT[b.level],
  )
}
