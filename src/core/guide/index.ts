export { checkGuide, type GuideFinding } from './checks'
export { composeValues, measureOf, proposeSummary, slugOf } from './compose'
export {
  GuideDocument,
  GuideMeasure,
  GuideValue,
  GuideWords,
  Origin,
  TRANSFER_LABEL,
  TransferClass,
} from './document'
export { GuideHdr, guideHdrOf, SCHOOL_LABEL } from './hdr'
export { guideMarkdown } from './markdown'
export { transferClassOf } from './transfer'
