import type { ReactNode } from 'react'
import { diskWarning } from '#server'
import { DeskShell } from '#ui/desk'
import { themeFor } from '../theme'

export default async function DeskLayout({ children }: { children: ReactNode }) {
  return (
    <DeskShell theme={await themeFor('desk')} warning={await diskWarning()}>
      {children}
    </DeskShell>
  )
}
