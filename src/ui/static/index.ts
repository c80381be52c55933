export { clock, day, duration, luminance, stepAt, uncertainty } from './format'
export { Pager } from './pager'
export { Surface, type Theme, ThemeForm } from './surface'
