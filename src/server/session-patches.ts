import { PATCHES, type PatchSet } from '#core/measure'
import { SDR_SIGNAL } from '#core/signal'
import type { SessionRow } from '#db'

/** The patches of the signal that a session measures with. */
export const sessionPatches = ({ signalFormat }: Pick<SessionRow, 'signalFormat'>): PatchSet =>
  PATCHES[(signalFormat ?? SDR_SIGNAL).transfer]
