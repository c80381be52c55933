export { type ClicksToTarget, clicksToTarget } from './clicks-to-target'
export { errorsUnder, solveColours, weightedMean } from './colour-clicks'
export {
  type ClickRange,
  errorOfDrives,
  expectedError,
  type GreyAim,
  solveClicks,
  toneOfWhite,
} from './grey-clicks'
export { chooseLuminance, type LuminanceChoice, type RoomRow, roomTable } from './luminance'
export { lumensFor, luminanceOn, sizeOf, throwDistance } from './screen'
export { ITP_STEPS } from './tuning'
