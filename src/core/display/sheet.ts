import { z } from 'zod'
import { Transfer } from '#core/signal'
import { Role } from './roles'

/** A value of a control: a whole number of its steps, or the key of one of its choices. */
export const ControlValue = z.union([z.number(), z.string().min(1).max(60)])
export type ControlValue = z.infer<typeof ControlValue>

export const Channel = z.enum(['red', 'green', 'blue'])
export type Channel = z.infer<typeof Channel>

/**
 * With what a display stores a value: one value for each picture mode, for each kind of signal (SDR, HDR), for static and dynamic metadata of HDR, for each
 * input, for each white preset. A value may hang on several; one that hangs on none is stored once for the whole display.
 */
export const Memory = z.enum(['mode', 'signal', 'metadata', 'input', 'white-preset'])
export type Memory = z.infer<typeof Memory>

/** The six colours that colour management knows. */
export const Hue = z.enum(['red', 'green', 'blue', 'cyan', 'magenta', 'yellow'])
export type Hue = z.infer<typeof Hue>

const Key = z.string().regex(/^[a-z][a-z0-9-]{0,59}$/, 'a key has lower-case letters, digits and hyphens')

/** What must hold so that a control is not greyed out: another control's value, or the kind of signal. */
const Need = z.union([
  z.object({ control: Key, is: z.array(ControlValue).min(1).max(40) }),
  z.object({ signal: z.array(Transfer).min(1) }),
  z.object({ metadata: z.array(z.enum(['static', 'dynamic'])).min(1) }),
  z.object({ scan: z.array(z.enum(['progressive', 'interlaced'])).min(1) }),
])

const common = {
  key: Key,
  /** Menu path to the control, outermost first, in the maker's own labels. */
  path: z.array(z.string().min(1).max(80)).min(1).max(8),
  /** The maker's own label. */
  label: z.string().min(1).max(80),
  role: Role,
  channel: Channel.optional(),
  /** For colour management: the colour that it moves; left out where it moves all. */
  colour: Hue.optional(),
  /** For level-by-level controls: the signal level that it moves most, 0…1, to a thousandth, as patches are. */
  level: z
    .number()
    .min(0)
    .max(1)
    .transform((level) => Math.round(1000 * level) / 1000)
    .optional(),
  /** In HDR, of a level-by-level control: its level is a share of the signal, or of the panel's drive behind tone mapping. */
  levelAt: z.enum(['signal', 'panel']).optional(),
  memory: z.array(Memory).max(5),
  /** All of them must hold; otherwise the control is greyed out. */
  needs: z.array(Need).max(8).optional(),
  /** One sentence where the label misleads: what the control really does. */
  caution: z.string().min(1).max(300).optional(),
}

const NumberControl = z.object({
  ...common,
  kind: z.literal('number'),
  range: z
    .object({ min: z.number(), max: z.number(), step: z.number().positive() })
    .refine((r) => r.min < r.max, 'min must be below max'),
  default: z.number(),
  /** Factory's values in picture modes that have another one. */
  inMode: z.record(Key, z.number()).optional(),
  /** Factory's value while an HDR signal arrives, where it is another one. */
  inHdr: z.number().optional(),
  neutral: z.number().optional(),
})

const ChoiceControl = z.object({
  ...common,
  kind: z.literal('choice'),
  choices: z
    .array(z.object({ value: Key, label: z.string().min(1).max(80) }))
    .min(1)
    .max(40),
  default: Key,
  inMode: z.record(Key, Key).optional(),
  inHdr: Key.optional(),
  neutral: Key.optional(),
})

export const Control = z.discriminatedUnion('kind', [NumberControl, ChoiceControl])
export type Control = z.infer<typeof Control>
export type NumberControl = z.infer<typeof NumberControl>
export type ChoiceControl = z.infer<typeof ChoiceControl>

/** Distance of a value from the range's start in clicks. */
const clicksFromStart = (control: NumberControl, value: number): number =>
  (value - control.range.min) / control.range.step

/** Why a control cannot hold a value, as a sentence, or undefined when it can. */
export const whyRefused = (control: Control, value: ControlValue): string | undefined => {
  if (control.kind === 'choice')
    return control.choices.some((c) => c.value === value)
      ? undefined
      : `“${control.label}” offers ${control.choices.map((c) => c.label).join(', ')}, not ${value}.`
  const { min, max, step } = control.range
  if (typeof value !== 'number' || !Number.isFinite(value)) return `“${control.label}” takes a number.`
  if (value < min || value > max) return `“${control.label}” goes from ${min} to ${max}, not to ${value}.`
  const clicks = clicksFromStart(control, value)
  return Math.abs(clicks - Math.round(clicks)) < 1e-6
    ? undefined
    : `“${control.label}” takes steps of ${step}; ${value} must be a multiple of the step.`
}

/** All controls of a model in menu order. */
export const ControlSheet = z
  .object({
    format: z.literal('wexmar-control-sheet/2'),
    maker: z.string().min(1).max(80),
    model: z.string().min(1).max(80),
    controls: z.array(Control).min(1).max(400),
  })
  .superRefine((sheet, context) => {
    const seen = new Set<string>()
    sheet.controls.forEach((control, i) => {
      if (seen.has(control.key))
        context.addIssue({
          code: 'custom',
          path: ['controls', i, 'key'],
          message: `${control.key} stands twice`,
        })
      seen.add(control.key)
      const values: Array<[string, ControlValue | undefined]> = [
        ['default', control.default],
        ['neutral', control.neutral],
        ['inHdr', control.inHdr],
        ...Object.entries(control.inMode ?? {}),
      ]
      for (const [field, value] of values) {
        const refused = value === undefined ? undefined : whyRefused(control, value)
        if (refused)
          context.addIssue({ code: 'custom', path: ['controls', i, field], message: `${field}: ${refused}` })
      }
      for (const need of control.needs ?? []) {
        if (!('control' in need)) continue
        const other = sheet.controls.find((c) => c.key === need.control)
        const message = !other
          ? `hangs on ${need.control}, which the sheet does not have`
          : need.is.map((value) => whyRefused(other, value)).find(Boolean)
        if (message) context.addIssue({ code: 'custom', path: ['controls', i, 'needs'], message })
      }
    })
  })
export type ControlSheet = z.infer<typeof ControlSheet>

/** The control of a key. Errors: throws where the sheet has none, since keys come from the sheet itself. */
export const controlOf = (sheet: ControlSheet, key: string): Control => {
  const control = sheet.controls.find((c) => c.key === key)
  if (!control) throw new Error(`The sheet of ${sheet.maker} ${sheet.model} has no control ${key}`)
  return control
}

/** A single level at the place where it acts on a scale of its own, as in HDR, with the level that the menu names. */
export type PlacedControl = Control & { readonly menuLevel?: number }

/** The level of a control as the menu names it, 0…1; undefined where it has none. */
export const menuLevelOf = (control: PlacedControl): number | undefined => control.menuLevel ?? control.level

/** A control by a name that tells it from all others: its label, after the page it stands on where others are labelled alike. */
export const distinctLabel = (sheet: ControlSheet, control: Control): string => {
  const page = control.path.at(-1)
  const alike = sheet.controls.some((c) => c.key !== control.key && c.label === control.label)
  return alike && page ? `${page} › ${control.label}` : control.label
}

/** The first control of a role (and channel), in menu order. */
export const controlByRole = (sheet: ControlSheet, role: Role, channel?: Channel): Control | undefined =>
  sheet.controls.find((c) => c.role === role && c.channel === channel)

/** A value as the menu shows it: signs where the range has two sides, the label of a choice. */
export const showValue = (control: Control, value: ControlValue): string => {
  if (control.kind === 'choice') return control.choices.find((c) => c.value === value)?.label ?? String(value)
  const n = Number(value)
  if (n < 0) return `−${Math.abs(n)}`
  return control.range.min < 0 && n > 0 ? `+${n}` : String(n)
}

/** Whole clicks from one value to another, signed; undefined for choices, which are not counted. */
export const clicksBetween = (control: Control, from: ControlValue, to: ControlValue): number | undefined =>
  control.kind === 'number' ? Math.round((Number(to) - Number(from)) / control.range.step) : undefined
