export { drawPattern, PATTERN_SIZE, VISUAL_PATTERNS, type VisualPattern, visualPattern } from './draw'
export { type Codes, Raster, Surface, writtenSize } from './raster'
