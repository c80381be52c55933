export { normal, uniform } from './random'
