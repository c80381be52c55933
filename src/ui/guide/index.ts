export { DifferencesTable } from './differences'
export { PublicGuide, type RevisionEntry } from './public-guide'
export { PublicShell } from './shell'
export { ValueTable } from './value-table'
