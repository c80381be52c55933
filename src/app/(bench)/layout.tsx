import type { ReactNode } from 'react'
import { ThemeRoot } from '#ui/desk'
import { themeFor } from '../theme'

export default async function BenchLayout({ children }: { children: ReactNode }) {
  return <ThemeRoot theme={await themeFor('bench')}>{children}</ThemeRoot>
}
