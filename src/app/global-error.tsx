'use client'

import { ThemeRoot } from '#ui/desk'
import { FaultPage, type PageFault } from '#ui/fault'
import './globals.css'

/** Where nothing of a page can be made. */
export default function GlobalError(fault: PageFault) {
  return (
    <html lang="en">
      <body>
        <ThemeRoot theme="paper">
          <main>
            <FaultPage
              {...fault}
              title="Wexmar could not answer"
              says="Nothing that was saved is lost. Wait a moment and try again."
              home={{ href: '/', text: 'To the first page' }}
            />
          </main>
        </ThemeRoot>
      </body>
    </html>
  )
}
