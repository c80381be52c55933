import { type Role, rolesWhere } from '#core/display'
import { sweepAboutOf } from '#core/measure'
import type { Next, RouteFacts } from '#core/steps'

const BEAM =
  'Never look into the lens or the beam, and place the meter from the side, with the light source low or shuttered; the maker’s instructions come first.'
const FLICKER =
  'Options that insert black between frames flicker while they are tried: anyone who may be photosensitive should not look at the screen meanwhile. P pauses.'
const STILL =
  'One picture stands still for minutes while this is read. On a self-emissive panel do it once, and let the display’s own care run afterwards.'

const FLICKER_AT_RATES =
  'Light may flicker while the rate varies, most of all in dark greys: anyone who may be photosensitive should not look at the screen meanwhile. P pauses.'
const STILL_SWEEP =
  'Patches stand in one place for minutes. On a self-emissive panel show something that moves between sweeps, and let the display’s own care run afterwards.'

/** What people have to beware of at what is next: the beam of a projector, flicker, pictures that stand still. In: facts, the next thing. */
export const cautionsAt = (
  { panelKind, sheet }: Pick<RouteFacts, 'panelKind' | 'sheet'>,
  next: Next,
): string[] => {
  const works =
    next.kind === 'prepare' || next.kind === 'sweep' || next.kind === 'survey' || next.kind === 'tour'
  const moves = (role: Role) =>
    next.kind === 'tour' &&
    next.stops.some((s) =>
      s.changes.some((c) => sheet.controls.some((o) => o.key === c.control && o.role === role)),
    )
  const stands = (next.kind === 'tour' ? next.stops.flatMap((s) => [...s.reads]) : []).some(
    (p) => (p.timing?.stands ?? 0) > LONG_SECONDS,
  )
  const patches =
    next.kind === 'sweep'
      ? next.patches
      : next.kind === 'survey'
        ? next.modes.flatMap((m) => [...m.patches])
        : []
  return [
    ...(panelKind === 'self-emissive' && patches.length >= LONG_SWEEP ? [STILL_SWEEP] : []),
    ...(next.kind === 'sweep' && sweepAboutOf(next.patches) === 'refresh' ? [FLICKER_AT_RATES] : []),
    ...(panelKind === 'projector' && works ? [BEAM] : []),
    ...([...rolesWhere((r) => r.flickers === true)].some(moves) ? [FLICKER] : []),
    ...(stands ? [STILL] : []),
  ]
}
/** A patch that stands longer than this is a still picture, s. */
const LONG_SECONDS = 60
/** From so many patches on a sweep takes minutes. */
const LONG_SWEEP = 24
