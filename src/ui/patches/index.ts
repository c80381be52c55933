export { PatchPage } from './patch-page'
