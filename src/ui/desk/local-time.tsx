'use client'

import { useEffect, useState } from 'react'

/** A moment in the time of whoever reads it; in UTC until the page is alive. In: ISO 8601. */
export const LocalTime = ({ at }: { at: string }) => {
  const [text, setText] = useState(`${at.slice(0, 16).replace('T', ', ')} UTC`)
  useEffect(
    () =>
      setText(
        new Date(at).toLocaleString('en-GB', { dateStyle: 'long', timeStyle: 'short', hourCycle: 'h23' }),
      ),
    [at],
  )
  return <time dateTime={at}>{text}</time>
}
