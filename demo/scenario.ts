import type { Intake } from '#core/entry'
import type { ViewingCase } from '#core/judge'

/** A unit of the made-up desk, and the viewing cases that it is calibrated for, one after the other. */
interface DemoUnit {
  readonly serial: string
  readonly intake: Intake
  readonly cases: readonly ViewingCase[]
}

/** The made-up desk. Nothing here exists. */
export const FINISHED: DemoUnit = {
  serial: 'OM55-20417',
  intake: {
    label: 'unit 1',
    region: 'Europe',
    origin: 'bought for this test',
    panelKind: 'lcd-full-array',
    hours: 212,
  },
  cases: ['sdr-dark', 'sdr-bright', 'hdr-film', 'hdr-film-dynamic'],
}
/** A unit that was just unpacked: nothing of it is read. */
export const FRESH: DemoUnit = {
  serial: 'OM55-31186',
  intake: {
    label: 'unit 2',
    region: 'Europe',
    origin: 'on loan from the importer',
    panelKind: 'lcd-full-array',
    hours: 6,
  },
  cases: [],
}
/** Further units: one more of the same size, which shows how units differ, another size, a projector and a monitor. */
export const OTHERS: readonly DemoUnit[] = [
  {
    serial: 'OM55-44902',
    intake: {
      label: 'unit 3',
      region: 'Europe',
      origin: 'a reader’s own',
      panelKind: 'lcd-full-array',
      hours: 1840,
    },
    cases: ['sdr-dark'],
  },
  {
    serial: 'OM65-10336',
    intake: {
      label: 'unit 1',
      region: 'Europe',
      origin: 'bought for this test',
      panelKind: 'lcd-full-array',
      hours: 31,
    },
    cases: ['sdr-dark'],
  },
  {
    serial: 'BL3-00290',
    intake: { label: 'unit 1', region: 'Europe', origin: 'on loan', panelKind: 'projector', hours: 90 },
    cases: ['sdr-dark'],
  },
  {
    serial: 'AP27-04461',
    intake: {
      label: 'unit 1',
      region: 'Europe',
      origin: 'bought for this test',
      panelKind: 'lcd-edge-lit',
      hours: 12,
    },
    cases: ['sdr-bright'],
  },
]
/** A display that nobody had a meter for: its guide is by eye, and says so. */
export const BY_EYE = {
  serial: 'QT43-77120',
  intake: {
    label: 'unit 1',
    region: 'Europe',
    origin: 'a reader’s own',
    panelKind: 'lcd-edge-lit',
    hours: 3100,
  },
  viewingCase: 'sdr-dark',
  values: { view: 'film', light: 8 },
} as const
/** Other sizes of the first model that are sold, in inch. */
export const OTHER_SIZES = [43, 75] as const
/** Firmware that comes out after the first unit was calibrated; its first case is read again with it. */
export const NEW_FIRMWARE = '4.10.0'
/** The policy that the desk follows. */
export const POLICY = 'strict-reference'
