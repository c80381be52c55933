import { z } from 'zod'
import { ControlValue } from '#core/display'
import { DisplayIdentity, PanelKind } from './messages'

/** What can go wrong on a simulated bench, with what a person would see. */
export const FAULT_MEANING = {
  'meter-timeout': 'The meter gives no answer.',
  'meter-empty': 'The meter answers without a value.',
  'meter-not-a-number': 'The meter answers with text.',
  'meter-negative': 'The meter answers with light below zero.',
  'meter-saturated': 'The meter says that it is saturated.',
  'meter-unstable': 'The meter says that the light changed.',
  'meter-aside': 'The meter was knocked aside: it sees less light, and some of the room.',
  'control-refuses': 'A control is greyed out.',
  'display-forgets': 'The display drops a setting.',
  'flags-wrong-range': 'The source flags the other range than it sends.',
  'flags-wrong-transfer': 'The source flags PQ, whatever it sends.',
  'flags-wrong-colour-space': 'The source flags the other colour space than it sends.',
  'flags-wrong-peak': 'The source flags a mastering peak of 1,000 cd/m², whatever it is asked for.',
  'flags-no-metadata': 'The source sends no HDR metadata.',
  'probe-misses': 'The latency probe misses every third flash.',
  overscan: 'The display enlarges the picture.',
  'automatic-dimming': 'The display dims still pictures.',
  'power-loss': 'The power fails: the display restarts cold.',
} as const
export type FaultKind = keyof typeof FAULT_MEANING
const KINDS = Object.keys(FAULT_MEANING) as [FaultKind, ...FaultKind[]]

/** Something that goes wrong on a simulated bench, `times` times (0: until it is taken back). */
export const Fault = z.object({
  kind: z.enum(KINDS),
  times: z.number().int().min(0).max(10_000),
  /** For `control-refuses`: the control; all of them where it is left out. */
  control: z.string().max(60).optional(),
})
export type Fault = z.infer<typeof Fault>

const Speed = z.number().min(0).max(10_000)

/** `GET /simulation`. */
export const Simulation = z.object({
  /** How fast bench seconds pass: 1 is real time, 0 as fast as it goes. */
  speed: Speed,
  onStand: z.string().nullable(),
  shelf: z.array(DisplayIdentity.extend({ panelKind: PanelKind })),
  faults: z.array(Fault),
})
export type Simulation = z.infer<typeof Simulation>

/** `PATCH /simulation`: what is left out stays. */
export const SimulationChange = z.object({
  speed: Speed.optional(),
  /** Serial of the unit to put on the stand. */
  onStand: z.string().max(120).optional(),
  /** Bench seconds since the unit on the stand was switched on. */
  displayOnFor: z.number().nonnegative().max(1e6).optional(),
  faults: z.array(Fault).max(40).optional(),
  /** Firmware of the unit on the stand, as if it had been updated. */
  firmware: z.string().min(1).max(60).optional(),
  /** What units have stored that were set on another simulated bench, by serial; a unit that was set on this one keeps its own. */
  stored: z
    .record(
      z.string().max(120),
      z.object({
        bank: z.record(z.string().max(200), ControlValue),
        firmware: z.string().max(60).optional(),
      }),
    )
    .optional(),
})
export type SimulationChange = z.infer<typeof SimulationChange>

/** `GET /simulation/light`: the true light of the patch that stands on the screen, XYZ in cd/m². */
export const TrueLight = z.object({ xyz: z.tuple([z.number(), z.number(), z.number()]) })
