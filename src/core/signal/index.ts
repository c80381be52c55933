export { codeOf, signalOf } from './codes'
export {
  BitDepth,
  Chroma,
  Encoding,
  flagsFor,
  MetadataFlags,
  PAGE_SIGNAL,
  primariesOf,
  Range,
  SDR_SIGNAL,
  SeenSignal,
  SignalFormat,
  SignalPrimaries,
  saySignal,
  sayWord,
  signalDifferences,
  Transfer,
} from './format'
