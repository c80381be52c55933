export { drawPattern, EYE_PATTERNS, type EyePattern, eyePattern, PATTERN_SIZE } from './draw'
export { type Codes, Raster, Surface, writtenSize } from './raster'
