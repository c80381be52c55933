export { drawCard } from './guide-card'
export { drawPdf } from './guide-pdf'
