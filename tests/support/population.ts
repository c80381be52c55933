export { bestGreyOf, trueGreyOf } from './population/best'
export { type Drawn, drawDisplay } from './population/draw'
export { lightOf } from './population/light'
export { populationBench } from './population/port'
