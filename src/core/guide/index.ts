export {
  CaseDocument,
  GuideMeasure,
  GuideValue,
  Origin,
  TRANSFER_LABEL,
  TransferClass,
  type Trouble,
} from './case-document'
export { composeValues, isByTheDozen, measureOf, proposeSummary, slugOf } from './compose'
export { type AboutCase, composeCase } from './compose-case'
export { type FollowStep, followSteps } from './follow'
export { type GuideDifferences, guideDifferences, type ValueDifference } from './guide-differences'
export {
  composeGuideDocument,
  GuideDocument,
  hurriedRows,
  type Overwritten,
  renewedGuide,
  rowOf,
  type Spread,
  sayBought,
} from './guide-document'
export { basisOf, ClassEntry, WordsPlace, withWords, wordsProblem } from './guide-words'
export { GuideHdr, guideHdrOf, SCHOOL_LABEL } from './hdr'
export { guideMarkdown } from './markdown'
export { GuideReport, type ReportCount, sayReports } from './report'
export {
  CASE_RULES,
  type CheckedCase,
  checkGuide,
  GUIDE_RULES,
  type GuideFinding,
  type Mend,
} from './rules'
export { sayCopying, transferClassOf } from './transfer'
