export { type DisplaySpec, type DisplayUnit, emit, makeUnit } from './light-path'
export { MAREN } from './maren'
export { METER, makeMeter, readingSeconds } from './meter'
