export {
  ClampTable,
  LatencyTable,
  PlaySection,
  RefreshTable,
  SourceScreensList,
  UniformityMap,
} from './play-tables'
