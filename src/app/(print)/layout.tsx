import type { ReactNode } from 'react'
import { ThemeRoot } from '#ui/desk'

/** Paper is white, whatever theme was chosen. */
export default function PrintLayout({ children }: { children: ReactNode }) {
  return <ThemeRoot theme="paper">{children}</ThemeRoot>
}
