export { CASE_LABEL, ViewingCase } from './cases'
export { type ColourError, colourError } from './colour-error'
export { type EvidenceReading, type EvidenceVerdict, judgeEvidence } from './evidence'
export {
  FEED_PATCHES,
  type FeedFault,
  type FeedFinding,
  type FeedReadings,
  feedCheck,
  feedReadings,
  judgeFeed,
  looksLikeWrongRange,
  mayLackShadows,
  rangeTaken,
} from './feed-check'
export { greyErrorChromatic, greyErrorNoise, greyErrorWithLuminance } from './grey-error'
export { type GreyVerdict, type JudgedLevel, judgeGreyScale, sayVerdict } from './grey-scale'
export { feedPatches, HDR_FEED_PATCHES, type HdrFeedReadings, judgeHdrFeed } from './hdr-feed'
export { type HdrModeVerdict, judgeHdrMode, sayHdrMode, simulatesHdr } from './hdr-mode'
export { judgeMode, type ModeVerdict, sayMode, toldApart } from './mode-verdict'
export {
  isDynamic,
  isHdr,
  POLICY_QUESTIONS,
  Policy,
  type PolicyQuestion,
  preferencesOf,
  REFERENCE_POLICY,
  Room,
  roomOf,
  SHIPPED_POLICIES,
  shippedPolicy,
  targetsFor,
  targetsOf,
} from './policy'
export { VISIBLE } from './tuning'
