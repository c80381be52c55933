export { type AddressView, guideAt, guideOfSession, type PublicGuide, revisionDifferences } from './addresses'
export { type GuideDraft, seenIn, wordsOf } from './draft'
export {
  ALL_GUIDES,
  deskGuides,
  type GuideChoices,
  type GuideFilter,
  type GuidesView,
  guideChoices,
  publishedGuides,
} from './lists'
export { cancelSchedule, publishDue, withdrawGuide } from './publish'
export { publishedMark } from './published-mark'
export { type BehindReading, readingsBehind } from './readings-behind'
export type { RecheckLine } from './recheck-plan'
export { moderateReport, type ReportLine, reportGuide } from './reports'
export { digestOf } from './revisions'
export { DESK } from './sections'
export { revisionOf } from './session-revision'
