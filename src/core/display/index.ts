export {
  type Bank,
  greyedOut,
  keepInBank,
  sayMemory,
  sharers,
  slotOf,
  stateOfBank,
} from './memory'
export { AUTOMATIC_PROCESSING, MEASURED_AT_NEUTRAL, ROLE_MEANING, ROLE_TERM, Role } from './roles'
export {
  Channel,
  type ChoiceControl,
  Control,
  ControlSheet,
  ControlValue,
  clicksBetween,
  controlByRole,
  controlOf,
  distinctLabel,
  Hue,
  Memory,
  type NumberControl,
  showValue,
  whyRefused,
} from './sheet'
export {
  type Change,
  factoryState,
  factoryValue,
  State,
  sameBut,
  stateDifference,
  stateKey,
  stateProblems,
} from './state'
