'use client'

import { createContext, type ReactNode, useContext } from 'react'
import { Surface, type Theme, ThemeForm } from '#ui/static'

const ThemeContext = createContext<Theme>('paper')
/** The theme of the surface that a component stands on. */
export const useTheme = (): Theme => useContext(ThemeContext)

/** The surface that everything stands on, known to what is drawn on it. */
export const ThemeRoot = ({ theme, children }: { theme: Theme; children: ReactNode }) => (
  <ThemeContext value={theme}>
    <Surface theme={theme}>{children}</Surface>
  </ThemeContext>
)

/** Changes between paper and dark for one place. */
export const ThemeSwitch = ({ place }: { place: 'bench' | 'desk' }) => (
  <ThemeForm place={place} theme={useTheme()} />
)
