export { BlockBody, BlockSections } from './block-view'
