export {
  BenchDescription,
  BenchError,
  DisplayIdentity,
  DisplayState,
  ErrorCode,
  MeterAnswer,
  MeterDescription,
  PatternDescription,
  PROTOCOL,
  ResetDisplay,
  SetControl,
  ShowPatch,
} from './messages'
export { Fault, Simulation, SimulationChange } from './simulation'
