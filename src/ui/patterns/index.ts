export { PatternPage } from './pattern-page'
export { useScreenTrouble } from './screen-trouble'
