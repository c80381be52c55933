export {
  addLatency,
  addRow,
  type EnteredView,
  enteredView,
  removeEntry,
  removeLatency,
  traceSamples,
} from './entered'
export { type EvidenceRun, type EvidenceSeries, type EvidenceView, evidenceView } from './evidence'
