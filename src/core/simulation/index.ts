export { type DisplayUnit, makeUnit, type Scene } from './display-unit'
export { LANTERN, MAREN, PELT, SimulatedModel, SORREL, TAVIN } from './displays'
export { emit, lightAt, shine } from './light-path'
export { METER, makeMeter, meterSees, readingSeconds } from './meter'
