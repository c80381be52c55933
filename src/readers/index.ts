export type { Around } from './document'
export { awayMarkup, type ReadersPage, readersPage } from './draw'
export type { Asked } from './read'
