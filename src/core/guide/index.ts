export type { Block, Cell, SettingRow, TableRow } from './blocks'
export {
  CaseDocument,
  GuideMeasure,
  GuideValue,
  measuredIn,
  Origin,
  TRANSFER_LABEL,
  TransferClass,
  type Trouble,
} from './case-document'
export { CASE_RULES, type Mend } from './case-rules'
export { CARD, chartLevels } from './chart-levels'
export { type CasePair, compareGuides } from './compare'
export { composeValues, isByTheDozen, measureOf, proposeSummary, slugOf } from './compose'
export { composeByEye } from './compose-by-eye'
export { type AboutCase, composeCase, sweepIds } from './compose-case'
export { type Cue, type CueSheet, chaptersVtt, cueSheet, SPEECH } from './cue-sheet'
export {
  ByEyeEntry,
  FirmwareEntry,
  PublishEntry,
  ReviewEntry,
  SeenDraft,
  WithdrawEntry,
} from './desk-entries'
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
export { fieldsOf, type GuideField, plainProse } from './guide-fields'
export {
  type FileState,
  fileVersion,
  GUIDE_FILE,
  GuideFile,
  GuideReading,
  statesOf,
  whatDoesNotFollow,
} from './guide-file'
export { basisOf, ClassEntry, WORDS_MOST, WordsPlace, withWords, wordsProblem } from './guide-words'
export { GuideHdr, guideHdrOf, SCHOOL_LABEL } from './hdr'
export { guideMarkdown } from './markdown'
export { type CaseOutline, type GuideOutline, guideOutline, sayGroupShared, settingRows } from './outline'
export { type PaperPart, pagesTable, paperParts } from './paper'
export { guidePlayOf } from './play'
export { playBlocks } from './play-blocks'
export { GuidePlay } from './play-document'
export type { CheckedCase } from './published-values'
export { judgeRecheck, type RecheckVerdict, recheckedCase, sayRecheck } from './recheck'
export { GuideReport, type ReportCount, sayReports } from './report'
export { checkGuide, type DeskFacts, GUIDE_RULES, type GuideFinding } from './rules'
export { isSafeLink } from './safe-prose'
export { sayCopying, saySpread, transferClassOf } from './transfer'
export { controlOfRow } from './unmeasured'
export { groupsToSet, type ValueGroup, valueGroups } from './value-groups'
