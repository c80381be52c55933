import type { ReactNode } from 'react'
import { appVersion } from '#server/background'
import { context, diskWarning, seeBench } from '#server/base'
import { DeskShell } from '#ui/desk'
import { themeFor } from '../theme'

// What stands at the bench, and how full the disk is, show on every page.
export const dynamic = 'force-dynamic'

export default async function DeskLayout({ children }: { children: ReactNode }) {
  const sight = await seeBench(context())
  return (
    <DeskShell
      theme={await themeFor('desk')}
      warning={await diskWarning()}
      simulated={sight.ok && sight.bench.simulated}
      version={appVersion()}
    >
      {children}
    </DeskShell>
  )
}
