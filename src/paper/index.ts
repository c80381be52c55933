export { drawCard } from './guide-card'
export { drawPdf, PdfBody } from './guide-pdf'
