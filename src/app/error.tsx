'use client'

import { ThemeRoot } from '#ui/desk'

/** Shown where a page cannot be made, usually because the database is away for a moment. */
export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <ThemeRoot theme="paper">
      <main className="mx-auto max-w-3xl px-6 py-24">
        <h1 className="figure text-5xl">This page could not be made</h1>
        <p className="mt-4 text-lg text-soft">
          Wexmar’s database did not answer, or something in Wexmar itself is wrong. Every reading that was
          shown is kept. Wait a moment and try again; if it stays, check the log folder under WEXMAR_DATA.
        </p>
        <p className="mt-8">
          <button type="button" className="button" onClick={reset}>
            Try again
          </button>
        </p>
      </main>
    </ThemeRoot>
  )
}
