'use client'

import { type ReactNode, useState } from 'react'

/** A line that opens to what belongs to it, which is made only then: a page may have a hundred of them. */
export const Fold = ({ summary, children }: { summary: ReactNode; children: ReactNode }) => {
  const [opened, setOpened] = useState(false)
  return (
    <details onToggle={(e) => e.currentTarget.open && setOpened(true)}>
      <summary className="flex cursor-pointer items-baseline gap-4">{summary}</summary>
      {opened && children}
    </details>
  )
}
