export { PublicGuide, ValueTable } from './public-guide'
export { PublicShell } from './shell'
