export {
  BesideList,
  ClampTable,
  HelperTables,
  LatencyTable,
  PlaySection,
  RefreshTable,
  ResponseTable,
  SourceScreensList,
  UniformityMap,
} from './play-tables'
