import type { ReactNode } from 'react'
import { ThemeRoot } from '#ui/desk'
import { themeFor } from '../theme'

export default async function FollowLayout({ children }: { children: ReactNode }) {
  return (
    <ThemeRoot theme={await themeFor('desk')}>
      <main className="mx-auto min-h-screen max-w-xl px-5 pt-5 pb-8">{children}</main>
    </ThemeRoot>
  )
}
