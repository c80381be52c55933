import { z } from 'zod'
import { FAULT_MEANING, type FaultKind, type Simulation } from '#core/protocol'
import { type Context, forgetBench } from '../base/context'
import { bad, good, type Result } from '../base/result'

export interface SimulationView extends Simulation {
  readonly kinds: ReadonlyArray<{
    readonly kind: FaultKind
    readonly meaning: string
    readonly on: number | null
  }>
  /** Unit ids of the serials that were added. */
  readonly known: Readonly<Record<string, number>>
  readonly displayOnFor: number | null
}

/** The simulated bench as it is set up, or why there is none. `times` of a fault: 0 until it is taken back. */
export const simulationView = async (ctx: Context): Promise<Result<SimulationView>> => {
  const [result, bench] = await Promise.all([ctx.bench.simulation(), ctx.bench.describe()])
  if (!result.ok)
    return bad(
      bench.ok
        ? 'The bench of this installation is a real one: nothing is simulated.'
        : result.failure.message,
    )
  const units = await ctx.db.units.findAll({ where: { serial: result.value.shelf.map((u) => u.serial) } })
  return good({
    ...result.value,
    kinds: (Object.keys(FAULT_MEANING) as FaultKind[]).map((kind) => ({
      kind,
      meaning: FAULT_MEANING[kind],
      on: result.value.faults.find((f) => f.kind === kind)?.times ?? null,
    })),
    known: Object.fromEntries(units.map((u) => [u.serial, u.id])),
    displayOnFor: bench.ok ? (bench.value.displayOnFor ?? null) : null,
  })
}

/** A change that a person asks of the simulated bench. */
export const SimulationWish = z.discriminatedUnion('what', [
  z.object({ what: z.literal('stand'), serial: z.string().max(120) }),
  z.object({ what: z.literal('speed'), speed: z.number().min(0).max(1000) }),
  z.object({ what: z.literal('cold') }),
  z.object({ what: z.literal('warm') }),
  z.object({
    what: z.literal('fault'),
    kind: z.enum(Object.keys(FAULT_MEANING) as [FaultKind, ...FaultKind[]]),
    /** Once, until it is taken back, or taken back now. */
    times: z.enum(['once', 'always', 'off']),
  }),
  z.object({ what: z.literal('mend') }),
  z.object({ what: z.literal('update'), firmware: z.string().trim().min(1).max(60) }),
])
export type SimulationWish = z.infer<typeof SimulationWish>

/** Changes the simulated bench. Out: nothing, or a sentence that says why not. */
export const changeSimulation = async (ctx: Context, wish: SimulationWish): Promise<Result<null>> => {
  const now = await ctx.bench.simulation()
  if (!now.ok) return bad(now.failure.message)
  const others = (kind: FaultKind) => now.value.faults.filter((f) => f.kind !== kind)
  const result = await ctx.bench.simulate(
    wish.what === 'stand'
      ? { onStand: wish.serial }
      : wish.what === 'speed'
        ? { speed: wish.speed }
        : wish.what === 'cold'
          ? { displayOnFor: 0 }
          : wish.what === 'warm'
            ? { displayOnFor: 3600 }
            : wish.what === 'update'
              ? { firmware: wish.firmware }
              : wish.what === 'mend'
                ? { faults: [] }
                : {
                    faults:
                      wish.times === 'off'
                        ? others(wish.kind)
                        : [...others(wish.kind), { kind: wish.kind, times: wish.times === 'once' ? 1 : 0 }],
                  },
  )
  forgetBench()
  return result.ok ? good(null) : bad(result.failure.message)
}
