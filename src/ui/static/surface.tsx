import type { ReactNode } from 'react'

export type Theme = 'paper' | 'dark'

/** What everything stands on. */
export const Surface = ({ theme, children }: { theme: Theme; children: ReactNode }) => (
  <div data-theme={theme} className="min-h-dvh bg-ground text-ink">
    {children}
  </div>
)

/** Changes between paper and dark for one place, scripts or not. */
export const ThemeForm = ({ place, theme }: { place: 'bench' | 'desk'; theme: Theme }) => {
  const other: Theme = theme === 'dark' ? 'paper' : 'dark'
  return (
    <form action="/api/theme" method="post" className="print:hidden">
      <input type="hidden" name="place" value={place} />
      <input type="hidden" name="theme" value={other} />
      <button type="submit" className="act text-sm">
        {other === 'dark' ? 'Dark' : 'Paper'}
      </button>
    </form>
  )
}
