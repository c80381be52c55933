export { type MeasuringScale, scaleOf } from './scale'
