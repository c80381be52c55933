import type { ReactNode } from 'react'
import { DeskShell } from '#ui/desk'
import { themeFor } from '../theme'

export default async function DeskLayout({ children }: { children: ReactNode }) {
  return <DeskShell theme={await themeFor('desk')}>{children}</DeskShell>
}
