import type { Metadata, Viewport } from 'next'
import type { ReactNode } from 'react'
import './globals.css'

// Every page says its own title: one that stood here would come first in each.
export const metadata: Metadata = {
  description: 'Turn-by-turn picture calibration for display reviewers.',
}
export const viewport: Viewport = { width: 'device-width', initialScale: 1 }

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>{children}</body>
    </html>
  )
}
