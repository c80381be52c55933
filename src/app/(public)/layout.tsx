import type { ReactNode } from 'react'
import { DESK } from '#server/guide'
import { PublicShell } from '#ui/guide'
import { themeFor } from '../theme'

export default async function PublicLayout({ children }: { children: ReactNode }) {
  return (
    <PublicShell theme={await themeFor('desk')} desk={DESK}>
      {children}
    </PublicShell>
  )
}
