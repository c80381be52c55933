export { codeOf, signalOf } from './codes'
export {
  BitDepth,
  Chroma,
  Encoding,
  flagsFor,
  HDR_MASTERING_PEAK,
  hdrSignal,
  MetadataFlags,
  metadataDifferences,
  PAGE_SIGNAL,
  primariesOf,
  Range,
  SDR_SIGNAL,
  SeenSignal,
  SignalFormat,
  type SignalKind,
  SignalPrimaries,
  saySignal,
  sayWord,
  signalDifferences,
  signalKind,
  Transfer,
} from './format'
export { bitsPerPixel, compressedBits, LinkKey, linkLoad, linksBetween, sayLink } from './link'
export { type GivenUp, giveUp, LINK_COLUMNS, type LinkRow, LinkUse, linkTable, planLink } from './link-plan'
export {
  type Arrival,
  DisplayInputs,
  type SignalPath,
  Socket,
  SourceDevice,
  SourceKind,
  type Wish,
} from './link-shapes'
export { timingOf, type VideoTiming } from './timing'
