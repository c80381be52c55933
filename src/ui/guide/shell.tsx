import type { ReactNode } from 'react'
import { Surface, type Theme, ThemeForm } from '#ui/static'

/** Header and page for readers. Everything works without scripts; links are plain. */
export const PublicShell = ({
  theme,
  desk,
  alone = false,
  children,
}: {
  theme: Theme
  /** Name of the site. */
  desk: string
  /** A file that is opened anywhere: nothing on it is sent. */
  alone?: boolean
  children: ReactNode
}) => (
  <Surface theme={theme}>
    <header className="rule-b">
      <div className="mx-auto flex max-w-6xl items-center gap-5 px-4 py-4 sm:px-8">
        <a href="/guides" className="figure flex-1 text-lg">
          {desk}
        </a>
        <nav className="print:hidden flex items-center gap-5 text-sm text-soft">
          <a className="hover:text-ink" href="/guides">
            Guides
          </a>
          {!alone && <ThemeForm place="desk" theme={theme} />}
        </nav>
      </div>
    </header>
    <main className="mx-auto max-w-6xl px-4 pt-8 pb-16 sm:px-8">{children}</main>
    <footer className="rule-t">
      <p className="mx-auto max-w-6xl px-4 py-6 text-sm text-faint sm:px-8">
        Values are for the unit named on the page. Follow your display’s own instructions first; never open
        it, and leave service menus to licensed service.
      </p>
    </footer>
  </Surface>
)
