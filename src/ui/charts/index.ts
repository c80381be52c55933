export { Chart, Mark, type MarkKind, OTHER_MARKS, type Series } from './chart'
export { ClicksAwayBars } from './clicks-to-target'
export { GammaChart, type GreyScales, WhiteErrorChart, WhitePath } from './grey-charts'
export { Swatch, styled } from './swatch'
