export { Bench } from './bench'
export { ReadingDialog } from './dialogs'
export { BeforeAfter } from './evidence'
