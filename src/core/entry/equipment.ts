import { z } from 'zod'
import { typedNumberOrNone } from './number'

/** Who does each device's part in a session, and how the meter is corrected. */
export const Equipment = z.object({
  display: z.enum(['bench', 'hand']),
  pattern: z.enum(['bench', 'page', 'hand']),
  meter: z.enum(['bench', 'hand']),
  /** Slot of the meter's own correction; `none`; null: the one for this kind of panel. */
  meterSlot: z
    .string()
    .regex(/^[a-z0-9-]{1,40}$/)
    .nullable(),
  /** Where a person reads the meter: which one it is. */
  meterName: z.string().trim().max(120),
  /** Standard deviation of one reading of a meter that a person reads, as a share of the value; null: learned from repeated readings. */
  scatter: z.number().min(0.0001).max(0.1).nullish(),
  correctionId: z.number().int().positive().nullable(),
})
export type Equipment = z.infer<typeof Equipment>

/** Everything is the bench's part. */
export const ON_BENCH: Equipment = {
  display: 'bench',
  pattern: 'bench',
  meter: 'bench',
  meterSlot: null,
  meterName: '',
  correctionId: null,
}

/** A person does everything: settings with the remote, patches on a page in the display's own browser or a player, readings typed. */
export const BY_HAND: Equipment = {
  ...ON_BENCH,
  display: 'hand',
  pattern: 'page',
  meter: 'hand',
}

/** An equipment without what only a bench does. */
export const withoutBench = (equipment: Equipment): Equipment => ({
  ...equipment,
  display: 'hand',
  pattern: equipment.pattern === 'bench' ? BY_HAND.pattern : equipment.pattern,
  meter: 'hand',
  meterSlot: null,
})

/** Questions about equipment and their answers, in words. */
export const EQUIPMENT_QUESTIONS = {
  display: {
    question: 'Settings are made by',
    answers: { bench: 'the bench', hand: 'a person with the remote' },
  },
  pattern: {
    question: 'Patches are shown by',
    answers: {
      bench: 'the bench’s pattern source',
      page: 'a browser on the display under test',
      hand: 'a person with a source',
    },
  },
  meter: { question: 'The meter is read by', answers: { bench: 'the bench', hand: 'manual entry' } },
} as const satisfies Record<string, { question: string; answers: Readonly<Record<string, string>> }>

/** What is wrong with an equipment, as a sentence with the field, or undefined. */
export const whyNotEquipment = ({
  meter,
  meterName,
}: Pick<Equipment, 'meter' | 'meterName'>): { field: 'meterName'; why: string } | undefined =>
  meter === 'hand' && meterName.trim() === ''
    ? { field: 'meterName', why: 'Say which meter you read: maker, model and serial.' }
    : undefined

/** An equipment as it is entered: a meter that a person reads has its name. */
export const EquipmentEntry = Equipment.superRefine((equipment, context) => {
  const wrong = whyNotEquipment(equipment)
  if (wrong) context.addIssue({ code: 'custom', path: [wrong.field], message: wrong.why })
})

/** The scatter of a meter as it is typed, in percent; empty where it is to be learned. Out: share of the value, or null. */
export const ScatterEntry = typedNumberOrNone((text) => `“${text}” is not a number of percent.`)
  .pipe(
    z
      .number()
      .min(0.01, 'No meter scatters by less than 0.01 %.')
      .max(10, 'A meter that scatters by more than 10 % cannot be worked with.')
      .optional(),
  )
  .transform((percent) => (percent === undefined ? null : percent / 100))

/** The equipment that every case begins with, as it is entered: a meter may be named later. */
export const UsualEquipmentEntry = z.object({
  display: Equipment.shape.display,
  pattern: Equipment.shape.pattern,
  meter: Equipment.shape.meter,
  meterName: Equipment.shape.meterName,
  scatter: ScatterEntry,
})
