'use client'

import { FaultPage, type PageFault } from '#ui/fault'

/** Readers: nothing of how Wexmar is run. */
export default function ReaderError(fault: PageFault) {
  return (
    <FaultPage
      {...fault}
      title="This page is not available now"
      says="The guides are still there: try again in a minute."
      home={{ href: '/guides', text: 'All guides' }}
    />
  )
}
