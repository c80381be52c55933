export { greyErrorChromatic, greyErrorNoise, greyErrorWithLuminance } from './grey-error'
export {
  type GreyVerdict,
  type JudgedLevel,
  judgeGreyScale,
  sayVerdict,
  VISIBLE,
} from './grey-scale'
