export {
  BT1886_CURVE,
  type Curve,
  HLG_CURVE,
  PQ_CURVE,
  powerCurve,
  SRGB_CURVE,
  type WhiteAndBlack,
} from './curves'
export { makeTarget, type Target, type Targets, targetOn } from './target'
export { curveOf, sayTone, type Tone, ToneTarget } from './tone'
