export { BenchPage } from './bench-page'
export { ReadingDialog } from './dialogs/dialogs'
