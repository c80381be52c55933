'use client'

import { FaultPage, type PageFault } from '#ui/fault'

/** Readers with a remote in hand. */
export default function FollowError(fault: PageFault) {
  return (
    <FaultPage
      {...fault}
      title="This step is not available now"
      says="What you have ticked is kept on this phone. Try again in a minute."
      home={{ href: '/guides', text: 'All guides' }}
    />
  )
}
