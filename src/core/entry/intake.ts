import { z } from 'zod'
import { PanelKind } from '#core/protocol'
import { typedNumber, typedNumberOrNone } from './number'

/** Kinds of panel, in words. */
export const PANEL_LABEL: Readonly<Record<PanelKind, string>> = {
  'lcd-full-array': 'LCD, full-array',
  'lcd-edge-lit': 'LCD, edge-lit',
  'self-emissive': 'self-emissive',
  projector: 'projector',
}

/** A kind of panel in words; one that is not known stands as it is written. */
export const panelLabel = (kind: string): string => PANEL_LABEL[kind as PanelKind] ?? kind

/** What the person who takes a unit in has to say; the rest the bench knows. */
export const Intake = z.object({
  label: z.string().trim().min(1, 'Give the unit a name, such as “unit 2”.').max(80),
  region: z.string().trim().min(1, 'Say for which region it was made.').max(40),
  origin: z.string().trim().min(1, 'Say where it came from: bought, or on loan from whom.').max(120),
  panelKind: PanelKind,
  returnsOn: z.iso.date().nullish(),
  hours: z.number().nonnegative('Hours of use are not below zero.').nullish(),
})
export type Intake = z.infer<typeof Intake>

/** A unit that stands on no bench: a person says what it is, and gives its control sheet. */
export const IntakeByHand = z.object({
  // In the order of the form, so that the first thing that is missing is named first.
  maker: z.string().trim().min(1, 'Who makes it?').max(80),
  model: z.string().trim().min(1, 'Which model is it?').max(80),
  sizeInch: z.number('Give the diagonal in inches.').positive('Give the diagonal in inches.').max(1000),
  serial: z.string().trim().min(1, 'The serial number tells units apart.').max(120),
  firmware: z.string().trim().min(1, 'Write the firmware down now: values belong to a version.').max(120),
  ...Intake.shape,
})
export type IntakeByHand = z.infer<typeof IntakeByHand>

const hours = typedNumberOrNone((text) => `“${text}” is not a number of hours.`).pipe(
  z.number().nonnegative('Hours of use are not below zero.').optional(),
)
const sizeInch = typedNumber(() => 'Give the diagonal in inches.').pipe(IntakeByHand.shape.sizeInch)

/** The same as they are typed into a form. */
export const IntakeEntry = Intake.extend({ hours })
export const IntakeByHandEntry = z.object({ ...IntakeByHand.shape, hours, sizeInch })
