export { Chart, Mark, type MarkKind } from './chart'
export { ClicksAwayBars } from './clicks-away'
export { GammaChart, type GreyScales, WhiteErrorChart, WhitePath } from './grey-charts'
