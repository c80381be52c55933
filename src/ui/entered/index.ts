export { LatencyForm } from './latency-form'
export { RowForm } from './row-form'
export { TraceChart } from './trace-chart'
export { TraceUpload } from './trace-upload'
