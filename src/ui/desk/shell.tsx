import Link from 'next/link'
import type { ReactNode } from 'react'
import type { Theme } from '#ui/static'
import { ThemeRoot, ThemeSwitch } from './theme'

/** Header and page of the desk: home, models, units, drafts. */
export const DeskShell = ({
  theme,
  warning,
  simulated,
  version,
  children,
}: {
  theme: Theme
  /** What concerns every page; empty where all is well. */
  warning: string
  /** The bench is a simulated one. */
  simulated: boolean
  /** Of Wexmar. */
  version: string
  children: ReactNode
}) => (
  <ThemeRoot theme={theme}>
    <header className="rule-b print:hidden">
      <div className="mx-auto flex max-w-6xl items-center gap-6 px-6 py-3">
        <Link href="/" className="figure text-xl">
          Wexmar
        </Link>
        <nav className="flex flex-1 flex-wrap gap-x-5 gap-y-1 text-sm text-soft">
          <Link className="hover:text-ink" href="/">
            Bench
          </Link>
          <Link className="hover:text-ink" href="/units">
            Units
          </Link>
          <Link className="hover:text-ink" href="/evidence">
            Evidence
          </Link>
          <Link className="hover:text-ink" href="/policies">
            Policies
          </Link>
          <Link className="hover:text-ink" href="/equipment">
            Equipment
          </Link>
          <Link className="hover:text-ink" href="/signal-path">
            Signal path
          </Link>
          {simulated && (
            <Link className="hover:text-ink" href="/simulated">
              Simulated devices
            </Link>
          )}
          <Link className="hover:text-ink" href="/desk/guides">
            Guides
          </Link>
          <Link className="hover:text-ink" href="/glossary">
            Glossary
          </Link>
        </nav>
        <ThemeSwitch place="desk" />
      </div>
    </header>
    {warning && (
      <p role="alert" className="rule-b bg-ground text-lamp">
        <span className="mx-auto block max-w-6xl px-6 py-3">{warning}</span>
      </p>
    )}
    <main className="mx-auto max-w-6xl px-6 pt-8 pb-20 has-[[data-wide]]:max-w-none">{children}</main>
    <footer className="print:hidden mx-auto max-w-6xl px-6 pb-6 text-sm text-faint">Wexmar {version}</footer>
  </ThemeRoot>
)

/** Where a page hangs: a line of links above its heading. */
export const Trail = ({ links }: { links: ReadonlyArray<{ href: string; text: string }> }) => (
  <nav aria-label="Where you are" className="mb-2 flex gap-2 text-sm text-faint">
    {links.map(({ href, text }, i) => (
      <span key={href} className="flex gap-2">
        {i > 0 && <span aria-hidden="true">›</span>}
        <Link className="hover:text-ink" href={href}>
          {text}
        </Link>
      </span>
    ))}
  </nav>
)
