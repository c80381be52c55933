import { ThemeRoot } from '#ui/desk'
import { themeFor } from './theme'

export default async function NotFound() {
  return (
    <ThemeRoot theme={await themeFor('desk')}>
      <main className="mx-auto max-w-3xl px-6 py-24">
        <title>Nothing at this address · Wexmar</title>
        <p className="num text-faint">404</p>
        <h1 className="figure mt-1 text-5xl">Nothing at this address</h1>
        <p className="mt-4 text-lg text-soft">
          It may have been mistyped, or belong to another installation. Nothing was lost.
        </p>
        <p className="mt-8 flex flex-wrap gap-4">
          <a className="button" href="/">
            To the bench
          </a>
          <a className="button button-quiet" href="/guides">
            To the guides
          </a>
        </p>
      </main>
    </ThemeRoot>
  )
}
