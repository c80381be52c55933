'use client'

import { FaultPage, type PageFault } from '#ui/fault'

/** The bench: a run goes on without the page. */
export default function BenchError(fault: PageFault) {
  return (
    <FaultPage
      {...fault}
      title="This page could not be made"
      says="Wexmar’s database did not answer, or something in Wexmar itself is wrong. Every reading that was shown is kept, and a run that is going on goes on. Wait a moment and try again."
      home={{ href: '/', text: 'To the bench' }}
    />
  )
}
