export { greyErrorChromatic, greyErrorNoise, greyErrorWithLuminance } from './grey-error'
export {
  type GreyVerdict,
  type JudgedLevel,
  judgeGreyScale,
  PLAIN,
  sayVerdict,
  VISIBLE,
} from './grey-scale'
