export { type Block, type Cell, type SettingRow, sentencesBlock, type TableRow, table } from './blocks'
export {
  CaseDocument,
  type GuideCopying,
  GuideMeasure,
  GuideValue,
  measuredIn,
  Origin,
  TRANSFER_LABEL,
  TransferClass,
  type Trouble,
} from './case-document'
export { CARD, chartLevels } from './chart-levels'
export { type GuideDifferences, guideDifferences, type ValueDifference } from './differences'
export { fieldsOf, type GuideField, lostFields, plainProse } from './fields'
export { GamesAndDesktop, type GuideResponse } from './games-document'
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
export { GuideHdr, guideHdrOf, SCHOOL_LABEL } from './hdr-document'
export { GuideReport, type ReportCount, sayReports } from './report'
export { isSafeLink, safeProse } from './safe-prose'
export { sayCopying, saySpread, transferClassOf } from './transfer'
export { groupsToSet, type ValueGroup, valueGroups } from './value-groups'
export { basisOf, ClassEntry, WORDS_MOST, WordsPlace, withWords, wordsProblem } from './words'
