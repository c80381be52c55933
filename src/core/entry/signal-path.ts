import { z } from 'zod'
import {
  type BitDepth,
  Chroma,
  type DisplayInputs,
  LinkKey,
  Range,
  type Socket,
  type SourceDevice,
  SourceKind,
} from '#core/signal'
import { numberTyped } from './number'

const FORMATS_HINT = 'Write one size a line with its rates, for example 3840 × 2160: 24, 60, 120.'

/** Sizes and rates of one device: more than any has, and few enough for a table. */
const MOST_SIZES = 30
const MOST_RATES = 120

/** Sizes with their rates, one a line: "3840 × 2160: 24, 60, 120". */
const typedFormats = z.string().transform((text, context): SourceDevice['formats'] => {
  const lines = text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
  const out = lines.map((line) => {
    const [, width, height, rates = ''] = /^(\d{2,5})\s*[×xX*]\s*(\d{2,5})\s*:\s*(.+)$/.exec(line) ?? []
    const list = rates
      .replace(/hz/gi, ' ')
      .split(/[,;\s]+/)
      .filter(Boolean)
      .map((r) => numberTyped(r) ?? Number.NaN)
    if (!width || !height || list.length === 0 || list.some((r) => !(r >= 1 && r <= 1000))) {
      context.addIssue({
        code: 'custom',
        message: `“${line.slice(0, 60)}” is not a size with its rates. ${FORMATS_HINT}`,
      })
      return undefined
    }
    return { width: Number(width), height: Number(height), rates: [...new Set(list)] }
  })
  if (out.length === 0) context.addIssue({ code: 'custom', message: FORMATS_HINT })
  if (out.length > MOST_SIZES || out.reduce((sum, f) => sum + (f?.rates.length ?? 0), 0) > MOST_RATES)
    context.addIssue({
      code: 'custom',
      message: `At most ${MOST_SIZES} sizes and ${MOST_RATES} rates in all; leave out those that no one uses.`,
    })
  return out.flatMap((f) => f ?? [])
})

/** Some of a few words, apart from each other by commas or spaces. */
const typedSome = <T>(known: readonly T[], what: string) =>
  z.string().transform((text, context): T[] => {
    const words = text.split(/[,;\s]+/).filter(Boolean)
    const found = words.flatMap((w) => known.filter((k) => String(k) === w))
    if (words.length === 0 || found.length !== words.length)
      context.addIssue({ code: 'custom', message: `${what}: ${known.join(', ')}, those that it does.` })
    return found
  })

/** Two rates between which a device varies, "48 to 120"; empty where it has no variable refresh. */
const typedVariable = z.string().transform((text, context) => {
  if (text.trim() === '') return undefined
  const [low, high, more] = (text.match(/\d+(?:[.,]\d+)?/g) ?? []).map((n) => numberTyped(n) ?? Number.NaN)
  if (low !== undefined && high !== undefined && more === undefined && low >= 1 && low < high && high <= 1000)
    return { slowest: low, fastest: high }
  context.addIssue({
    code: 'custom',
    message: 'Write the slowest and the fastest rate, for example 48 to 120, or nothing.',
  })
  return z.NEVER
})

const BIT_DEPTHS: readonly BitDepth[] = [8, 10, 12]
const yes = z.enum(['yes', 'no']).transform((word) => word === 'yes')

const ends = {
  formats: typedFormats,
  bitDepths: typedSome(BIT_DEPTHS, 'Bit depths'),
  chroma: typedSome(Chroma.options, 'Chroma'),
  variableRefresh: typedVariable,
}

/** What it changes by itself from a rate on, one a line: "120: 4:2:2, limited". */
const typedFalls = z.string().transform(
  (text, context): NonNullable<SourceDevice['falls']> =>
    text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean)
      .flatMap((line) => {
        const [, rate, rest = ''] =
          /^(\d+(?:[.,]\d+)?)\s*(?:hz)?\s*:\s+?(.+)$/i.exec(line) ?? /^(\d+)\s+(.+)$/.exec(line) ?? []
        const words = rest.split(/[,\s]+/).filter(Boolean)
        const chroma = Chroma.options.find((c) => words.includes(c))
        const range = Range.options.find((r) => words.includes(r))
        const bitDepth = BIT_DEPTHS.find((d) => words.includes(String(d)) || words.includes(`${d}bit`))
        const fromRate = rate === undefined ? undefined : numberTyped(rate)
        if (fromRate !== undefined && (chroma || range || bitDepth))
          return [
            {
              fromRate,
              ...(chroma ? { chroma } : {}),
              ...(range ? { range } : {}),
              ...(bitDepth ? { bitDepth } : {}),
            },
          ]
        context.addIssue({
          code: 'custom',
          message: `“${line.slice(0, 60)}” does not say what changes. Write for example 120: 4:2:2, limited.`,
        })
        return []
      }),
)

/** A source device as it is typed into a form. */
export const SourceEntry = z
  .object({
    name: z.string().trim().min(1, 'Give the source a name.').max(80),
    kind: SourceKind,
    link: LinkKey,
    compressed: yes,
    ranges: typedSome(Range.options, 'Ranges'),
    falls: typedFalls,
    ...ends,
  })
  .transform(
    ({ compressed, variableRefresh, falls, ...rest }): SourceDevice => ({
      ...rest,
      ...(compressed ? { compressed } : {}),
      ...(variableRefresh ? { variableRefresh } : {}),
      ...(falls.length ? { falls } : {}),
    }),
  )

/** A value of the menu, as "control=value"; empty where nothing hangs on one. */
const typedMenuValue = z.string().transform((text) => {
  const [, control, value] = /^([a-z][a-z0-9-]*)=([a-z][a-z0-9-]*)$/.exec(text) ?? []
  return control && value ? { control, value } : undefined
})

/** What a display takes, as it is typed; sockets are added one by one. */
export const InputsEntry = z
  .object(ends)
  .transform(({ variableRefresh, ...rest }) => ({ ...rest, ...(variableRefresh ? { variableRefresh } : {}) }))
export type InputsEntry = z.output<typeof InputsEntry>

/** A socket as it is typed. */
export const SocketEntry = z
  .object({
    label: z.string().trim().min(1, 'How is the socket labelled?').max(80),
    link: LinkKey,
    compressed: yes,
    soundSystem: yes,
    unlock: typedMenuValue,
    before: LinkKey,
    fullChroma: typedMenuValue,
    /** Labels of sockets with which it shares its full rate. */
    shares: z
      .string()
      .max(500)
      .transform((text) => text.split(',').flatMap((word) => word.trim() || [])),
    note: z.string().trim().max(300),
  })
  .transform(
    ({
      label,
      link,
      compressed,
      soundSystem,
      unlock,
      before,
      fullChroma,
      shares,
      note,
    }): Omit<Socket, 'key' | 'sharesWith'> & { readonly shares: readonly string[] } => ({
      shares,
      label,
      link,
      ...(compressed ? { compressed } : {}),
      ...(soundSystem ? { soundSystem } : {}),
      ...(unlock ? { unlock: { ...unlock, before } } : {}),
      ...(fullChroma ? { fullChroma } : {}),
      ...(note ? { note } : {}),
    }),
  )

const formatsTyped = (formats: DisplayInputs['formats']) =>
  formats.map((f) => `${f.width} × ${f.height}: ${f.rates.join(', ')}`).join('\n')

/** What a display takes as a form begins with it. */
export const inputsTyped = (inputs: DisplayInputs | null): z.input<typeof InputsEntry> => ({
  formats: inputs ? formatsTyped(inputs.formats) : '',
  bitDepths: (inputs?.bitDepths ?? [8, 10, 12]).join(', '),
  chroma: (inputs?.chroma ?? Chroma.options).join(', '),
  variableRefresh: inputs?.variableRefresh
    ? `${inputs.variableRefresh.slowest} to ${inputs.variableRefresh.fastest}`
    : '',
})
export type SocketEntry = z.output<typeof SocketEntry>
