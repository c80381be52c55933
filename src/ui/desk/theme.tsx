'use client'

import { createContext, type ReactNode, useContext } from 'react'

export type Theme = 'paper' | 'dark'

const ThemeContext = createContext<Theme>('paper')
/** The theme of the surface that a component stands on. */
export const useTheme = (): Theme => useContext(ThemeContext)

/** The surface that everything stands on. */
export const ThemeRoot = ({ theme, children }: { theme: Theme; children: ReactNode }) => (
  <ThemeContext value={theme}>
    <div data-theme={theme} className="min-h-dvh bg-ground text-ink">
      {children}
    </div>
  </ThemeContext>
)

/** Changes between paper and dark for one place, scripts or not. */
export const ThemeSwitch = ({ place }: { place: 'bench' | 'desk' }) => {
  const other: Theme = useTheme() === 'dark' ? 'paper' : 'dark'
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
