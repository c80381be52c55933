export { MOVES_BY_ITSELF, ROLE_MEANING, Role } from './roles'
export {
  Channel,
  type ChoiceControl,
  Control,
  ControlSheet,
  ControlValue,
  clicksBetween,
  controlByRole,
  controlOf,
  Memory,
  type NumberControl,
  numberByRole,
  showValue,
  whyRefused,
} from './sheet'
export { factoryState, State, stateDifference, stateKey, stateProblems } from './state'
