export { LANTERN, MAREN, PELT, SimulatedModel, SORREL, TAVIN } from './displays'
export { type DisplayUnit, emit, lightAt, makeUnit, type Scene, shine } from './light-path'
export { METER, makeMeter, meterSees, readingSeconds } from './meter'
