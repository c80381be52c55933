export { PatternPage } from './pattern-page'
