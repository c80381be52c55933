export { type CasePair, compareGuides } from './compare'
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
export { playBlocks } from './games-blocks'
export {
  type FileState,
  fileVersion,
  GUIDE_FILE,
  GuideFile,
  GuideReading,
  statesOf,
  whatDoesNotFollow,
} from './guide-file'
export { guideMarkdown } from './markdown'
export { type CaseOutline, type GuideOutline, guideOutline, sayGroupShared, settingRows } from './outline'
export { type PaperPart, pagesTable, paperParts } from './paper'
