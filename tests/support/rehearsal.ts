import type { BenchPort } from '#bench/executor'
import { makeBench, type SimulatedBench } from '#bench/simulated'
import { drive, type Outcome, type Wish } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import type { Route } from '#core/plan'
import { type DisplayUnit, makeUnit, type SimulatedModel } from '#core/simulation'
import type { RouteFacts } from '#core/steps'
import { portOf } from './port'

/** A unit of a simulated display on a bench of this process, as fast as it goes. */
export const benchWith = (spec: SimulatedModel, seed: number): SimulatedBench =>
  makeBench({
    shelf: [{ spec, serial: `X${seed}`, firmware: '1.0', seed }],
    seed: seed * 7,
    speed: 0,
    sleep: async () => undefined,
    keep: () => undefined,
  })

/** A case that was gone to its end: the unit itself, what came of it, and what the route was planned from last. */
export interface Rehearsal {
  readonly unit: DisplayUnit
  readonly outcome: Outcome
  readonly route: Route
  readonly facts: RouteFacts
}

/**
 * Goes a case unattended on a simulated unit, without database and browser.
 * In: model, seed of the unit and of the meter's scatter, what differs from the reference in a dark room; `through` may stand between the
 * work and the bench; `prepare` may do something to the bench before. Errors: where nothing could begin.
 */
export const rehearse = async (
  spec: SimulatedModel,
  seed: number,
  wish: Partial<Wish> = {},
  through: (port: BenchPort) => BenchPort = (port) => port,
  prepare: (bench: SimulatedBench) => void = () => undefined,
): Promise<Rehearsal> => {
  const bench = benchWith(spec, seed)
  prepare(bench)
  const outcome = await drive(
    through(portOf(bench)),
    { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY, ...wish },
    { pause: async () => undefined },
  )
  if (!('verified' in outcome) || !outcome.route) throw new Error(outcome.stopped)
  const { facts } = outcome.route.context
  return {
    unit: makeUnit(spec, seed),
    outcome,
    route: outcome.route,
    facts: { ...facts, state: outcome.state },
  }
}
