export { type MeasuringScale, scaleOf } from './scale'
export { ITP_STEPS } from './tuning'
