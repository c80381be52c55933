import { LANTERN, MAREN, PELT, SORREL, TAVIN } from '#core/simulation'
import type { ShelfUnit } from './stand'

/** The units on the shelf of the simulated bench: five models, four units of the first in two sizes. */
export const SHELF: readonly [ShelfUnit, ...ShelfUnit[]] = [
  { spec: MAREN, serial: 'OM55-20417', firmware: '4.02.1', seed: 9 },
  { spec: MAREN, serial: 'OM55-31186', firmware: '4.02.1', seed: 5 },
  { spec: SORREL, serial: 'HS65-00812', firmware: '11.3', seed: 21 },
  { spec: TAVIN, serial: 'QT43-77120', firmware: '2.8', seed: 33 },
  { spec: PELT, serial: 'AP27-04461', firmware: '1.04', seed: 41 },
  { spec: LANTERN, serial: 'BL3-00290', firmware: '7.1', seed: 57 },
  { spec: MAREN, serial: 'OM55-44902', firmware: '4.02.1', seed: 77 },
  { spec: { ...MAREN, sizeInch: 65 }, serial: 'OM65-10336', firmware: '4.02.1', seed: 83 },
]
