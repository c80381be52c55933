'use client'

import { FaultPage, type PageFault } from '#ui/fault'

/** The desk and everything beside it. */
export default function DeskError(fault: PageFault) {
  return (
    <FaultPage
      {...fault}
      title="This page could not be made"
      says="Wexmar’s database did not answer, or something in Wexmar itself is wrong. Nothing that was saved is lost. Wait a moment and try again; if it stays, look into the log folder under WEXMAR_DATA."
      home={{ href: '/', text: 'To the bench' }}
    />
  )
}
