import type { Intake } from '#core/entry'
import type { ViewingCase } from '#core/judge'
import type { DisplayInputs, SourceDevice } from '#core/signal'

/** A unit of the made-up desk, and the viewing cases that it is calibrated for, one after the other. */
interface DemoUnit {
  readonly serial: string
  /** Maker, model and size, for those who watch it being made. */
  readonly name: string
  readonly intake: Intake
  readonly cases: readonly ViewingCase[]
}

/** The made-up desk. Nothing here exists. */
export const FINISHED: DemoUnit = {
  serial: 'OM55-20417',
  name: 'Ostrel Maren 55',
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
  name: 'Ostrel Maren 55',
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
    name: 'Ostrel Maren 55',
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
    name: 'Ostrel Maren 65',
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
    name: 'Brae Lantern 3',
    intake: { label: 'unit 1', region: 'Europe', origin: 'on loan', panelKind: 'projector', hours: 90 },
    cases: ['sdr-dark'],
  },
  {
    serial: 'AP27-04461',
    name: 'Anvik Pelt Q 27',
    intake: {
      label: 'unit 1',
      region: 'Europe',
      origin: 'bought for this test',
      panelKind: 'lcd-edge-lit',
      hours: 12,
    },
    cases: ['desktop', 'sdr-game'],
  },
]
/** A display that nobody had a meter for: its guide is by eye, and says so. */
export const BY_EYE = {
  serial: 'QT43-77120',
  name: 'Quill & Farrow Tavin 43',
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
/** Sources on hand, and what the first model and the monitor take. */
export const SOURCES: readonly SourceDevice[] = [
  {
    name: 'Tarn console',
    kind: 'console',
    link: 'frl-32',
    formats: [
      { width: 3840, height: 2160, rates: [60, 120] },
      { width: 2560, height: 1440, rates: [60, 120] },
      { width: 1920, height: 1080, rates: [60, 120] },
    ],
    bitDepths: [8, 10, 12],
    chroma: ['4:4:4', '4:2:2', '4:2:0'],
    ranges: ['limited', 'full'],
    variableRefresh: { slowest: 48, fastest: 120 },
    falls: [{ fromRate: 120, chroma: '4:2:2', range: 'limited' }],
  },
  {
    name: 'Desk computer',
    kind: 'computer',
    link: 'frl-48',
    compressed: true,
    formats: [
      { width: 3840, height: 2160, rates: [60, 120, 144] },
      { width: 2560, height: 1440, rates: [60, 120, 144, 165] },
    ],
    bitDepths: [8, 10],
    chroma: ['4:4:4', '4:2:2'],
    ranges: ['full', 'limited'],
    variableRefresh: { slowest: 48, fastest: 165 },
  },
  {
    name: 'Film player',
    kind: 'player',
    link: 'tmds-18',
    formats: [{ width: 3840, height: 2160, rates: [24, 50, 60] }],
    bitDepths: [8, 10, 12],
    chroma: ['4:4:4', '4:2:2', '4:2:0'],
    ranges: ['limited'],
  },
]
export const INPUTS: Readonly<Record<string, DisplayInputs>> = {
  'ostrel-maren': {
    formats: [
      { width: 3840, height: 2160, rates: [24, 25, 30, 50, 60, 100, 120] },
      { width: 2560, height: 1440, rates: [60, 120] },
      { width: 1920, height: 1080, rates: [24, 50, 60, 120] },
    ],
    bitDepths: [8, 10, 12],
    chroma: ['4:4:4', '4:2:2', '4:2:0'],
    variableRefresh: { slowest: 48, fastest: 120 },
    sockets: [
      { key: 'input-1', label: 'Input 1', link: 'tmds-18' },
      { key: 'input-2', label: 'Input 2', link: 'tmds-18', soundSystem: true },
      { key: 'input-3', label: 'Input 3', link: 'frl-40', sharesWith: ['input-4'] },
      {
        key: 'input-4',
        label: 'Input 4',
        link: 'frl-40',
        sharesWith: ['input-3'],
        note: 'Pictures of 120 Hz need this socket or Input 3.',
      },
    ],
  },
}
/** Other sizes of the first model that are sold, in inch. */
export const OTHER_SIZES = [43, 75] as const
/** Firmware that comes out after the first unit was calibrated; its first case is read again with it. */
export const NEW_FIRMWARE = '4.10.0'
/** The policy that the desk follows. */
export const POLICY = 'strict-reference'
