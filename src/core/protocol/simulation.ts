import { z } from 'zod'
import { DisplayIdentity } from './messages'

/** Something that goes wrong on a simulated bench, `times` times (0: until it is taken back). */
export const Fault = z.object({
  kind: z.enum([
    'meter-timeout',
    'meter-empty',
    'meter-not-a-number',
    'meter-negative',
    'meter-saturated',
    'control-refuses',
    'display-forgets',
  ]),
  times: z.number().int().min(0).max(10_000),
  /** For `control-refuses`: the control; all of them where it is left out. */
  control: z.string().optional(),
})
export type Fault = z.infer<typeof Fault>

/** `GET /simulation`. */
export const Simulation = z.object({
  /** How fast bench seconds pass: 1 is real time, 0 as fast as it goes. */
  speed: z.number().min(0).max(10_000),
  onStand: z.string().nullable(),
  shelf: z.array(DisplayIdentity),
  faults: z.array(Fault),
})
export type Simulation = z.infer<typeof Simulation>

/** `PATCH /simulation`: what is left out stays. */
export const SimulationChange = z.object({
  speed: z.number().min(0).max(10_000).optional(),
  /** Serial of the unit to put on the stand. */
  onStand: z.string().optional(),
  faults: z.array(Fault).max(20).optional(),
})
export type SimulationChange = z.infer<typeof SimulationChange>
