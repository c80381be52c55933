import type { ShelfUnit } from './bench'
import { MAREN } from './maren'

/** The units on the shelf of the simulated bench. */
export const SHELF: readonly [ShelfUnit, ...ShelfUnit[]] = [
  { spec: MAREN, serial: 'OM55-20417', firmware: '4.02.1', seed: 9 },
  { spec: MAREN, serial: 'OM55-31186', firmware: '4.02.1', seed: 5 },
]
