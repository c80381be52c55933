import QRCode from 'qrcode'

/** A QR code, black on white whatever the theme, with its quiet zone. */
export const QrCode = ({ text }: { text: string }) => {
  const { modules } = QRCode.create(text, { errorCorrectionLevel: 'M' })
  const dark = Array.from({ length: modules.size ** 2 }, (_, i) => i).filter((i) => modules.data[i])
  const path = dark
    .map((i) => `M${4 + (i % modules.size)} ${4 + Math.floor(i / modules.size)}h1v1h-1z`)
    .join('')
  const { size } = modules
  return (
    <svg
      viewBox={`0 0 ${size + 8} ${size + 8}`}
      className="size-28 shrink-0 bg-white"
      role="img"
      aria-label={`QR code of ${text}`}
      shapeRendering="crispEdges"
    >
      <path d={path} fill="#000" />
    </svg>
  )
}
