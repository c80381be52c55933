export { EvidenceDesk } from './evidence-desk'
