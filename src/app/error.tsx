'use client'

import { ThemeRoot } from '#ui/desk'
import { FaultPage, type PageFault } from '#ui/fault'

/** Where what stands around a page cannot be made, usually because the database is away for a moment. */
export default function ErrorPage(fault: PageFault) {
  return (
    <ThemeRoot theme="paper">
      <main>
        <FaultPage
          {...fault}
          title="This page could not be made"
          says="Wexmar’s database did not answer, or something in Wexmar itself is wrong. Nothing that was saved is lost. Wait a moment and try again."
          home={{ href: '/', text: 'To the first page' }}
        />
      </main>
    </ThemeRoot>
  )
}
