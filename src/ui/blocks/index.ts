export { BlockBody, BlockSections, sectionsOf } from './block-view'
