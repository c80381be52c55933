import type { ControlFault, FaultKind } from '#core/model'
import type { RouteContext } from '#core/steps'

/** Faults that are reckoned with: dead controls are left alone, others go up to a limit or work the other way round. */
export interface KnownFaults {
  readonly refused: Readonly<Record<string, string>>
  readonly rangeLimits: ReadonlyMap<string, number>
  readonly byLevel: ReadonlyMap<string, FaultKind>
}

/** What a plan found that was not reckoned with yet; undefined where there is nothing new. */
export const newFaults = (
  {
    controlFaults: all,
    context,
  }: { readonly controlFaults: readonly ControlFault[]; readonly context: RouteContext },
  found: KnownFaults,
): KnownFaults | undefined => {
  const fresh = all.filter((o) => {
    if (o.suspected) return false
    if (o.kind === 'nothing') return context.facts.refused[o.control] === undefined
    if (o.kind === 'backwards') return o.byLevel === true && !found.byLevel.has(o.control)
    return o.at !== undefined && found.rangeLimits.get(o.control) !== o.at
  })
  if (fresh.length === 0) return undefined
  const of = (kind: string) => fresh.filter((o) => o.kind === kind)
  return {
    refused: { ...found.refused, ...Object.fromEntries(of('nothing').map((o) => [o.control, o.sentence])) },
    rangeLimits: new Map([
      ...found.rangeLimits,
      ...fresh.flatMap((o) => (o.at === undefined ? [] : [[o.control, o.at] as const])),
    ]),
    byLevel: new Map([
      ...found.byLevel,
      ...of('nothing').flatMap((o) => (o.byLevel ? [[o.control, 'dead'] as const] : [])),
      ...of('backwards').map((o) => [o.control, 'reversed'] as const),
    ]),
  }
}
