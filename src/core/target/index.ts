export { BALANCE_EXPONENT, BT1886_CURVE, type Curve } from './curves'
export { type Target, type Targets, targetOn } from './target'
export { curveOf, isTone, sayTone, ToneTarget, toneFrom } from './tone'
