export { SheetEditor } from './sheet-editor'
