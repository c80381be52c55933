import Papa from 'papaparse'
import type { Series } from './series'

const save = (name: string, url: string) => {
  const link = document.createElement('a')
  link.download = name
  link.href = url
  link.click()
}
const fileName = (title: string, ending: string) =>
  `${title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')}.${ending}`

/** Saves a chart as a PNG on the ground of its theme, with its name above. */
export const savePicture = (canvas: HTMLCanvasElement, title: string): void => {
  const style = getComputedStyle(canvas)
  const scale = canvas.width / Math.max(1, canvas.clientWidth)
  const head = 30 * scale
  const picture = document.createElement('canvas')
  picture.width = canvas.width
  picture.height = canvas.height + head
  const ctx = picture.getContext('2d')!
  ctx.fillStyle = style.getPropertyValue('--ground').trim()
  ctx.fillRect(0, 0, picture.width, picture.height)
  ctx.fillStyle = style.getPropertyValue('--ink').trim()
  ctx.font = `600 ${15 * scale}px "Archivo Variable", sans-serif`
  ctx.fillText(title, 8 * scale, 20 * scale)
  ctx.drawImage(canvas, 0, head)
  save(fileName(title, 'png'), picture.toDataURL('image/png'))
}

/** Saves the points of a chart as CSV; nothing in it is taken for a formula by a spreadsheet. */
export const saveTable = (title: string, series: readonly Series[], x: string, y: string): void => {
  const rows = series.flatMap((s) => s.points.map((p) => [s.label, p.x, p.y, p.id ?? '']))
  const text = Papa.unparse({ fields: ['series', x, y, 'reading'], data: rows }, { escapeFormulae: true })
  const url = URL.createObjectURL(new Blob([`\uFEFF${text}`], { type: 'text/csv;charset=utf-8' }))
  save(fileName(title, 'csv'), url)
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}
