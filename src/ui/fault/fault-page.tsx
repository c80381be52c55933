'use client'

/** What the framework hands to a page of errors: the error with the number under which the log has it, and a way to try again. */
export interface PageFault {
  readonly error: Error & { readonly digest?: string }
  readonly reset: () => void
}

/** Shown where a page cannot be made: what is kept, what to do, and where it is told apart in the log. */
export const FaultPage = ({
  error,
  reset,
  title,
  says,
  home,
}: PageFault & {
  readonly title: string
  readonly says: string
  readonly home: { readonly href: string; readonly text: string }
}) => (
  <div className="mx-auto max-w-3xl px-6 py-20" role="alert">
    <title>{`${title} · Wexmar`}</title>
    <h1 className="figure text-5xl">{title}</h1>
    <p className="mt-4 text-lg text-soft">{says}</p>
    {error.digest && (
      <p className="mt-3 text-sm text-faint">
        In the log it stands under <span className="num">{error.digest}</span>.
      </p>
    )}
    <p className="mt-8 flex flex-wrap gap-4">
      <button type="button" className="button" onClick={reset}>
        Try again
      </button>
      <a className="button button-quiet" href={home.href}>
        {home.text}
      </a>
    </p>
  </div>
)
