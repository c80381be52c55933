import type { Intake } from '#core/entry'
import type { ViewingCase } from '#core/judge'

/** The made-up desk: one unit that is finished, one that was just unpacked. Nothing here exists. */
export const FINISHED: { serial: string; intake: Intake } = {
  serial: 'OM55-20417',
  intake: {
    label: 'unit 1',
    region: 'Europe',
    origin: 'bought for this test',
    panelKind: 'lcd-full-array',
    hours: 212,
  },
}
export const FRESH: { serial: string; intake: Intake } = {
  serial: 'OM55-31186',
  intake: {
    label: 'unit 2',
    region: 'Europe',
    origin: 'on loan from the importer',
    panelKind: 'lcd-full-array',
    hours: 6,
  },
}
/** Other sizes of the model that are sold, in inch. */
export const OTHER_SIZES = [43, 65, 75] as const
/** Viewing cases that the finished unit is calibrated for, one after the other. */
export const CASES = ['sdr-dark', 'sdr-bright', 'hdr-film'] as const satisfies readonly ViewingCase[]
/** The policy that the finished unit follows. */
export const POLICY = 'strict-reference'
