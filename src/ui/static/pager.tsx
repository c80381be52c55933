import type { Paged } from '#server/base'

/** Ways to the other pages of a list; nothing where there is only one. */
export const Pager = ({
  at,
  href,
  what,
}: {
  at: Paged
  /** Address of a page, by its number. */
  href: (page: number) => string
  /** What is listed, in the plural. */
  what: string
}) =>
  at.pages < 2 ? null : (
    <nav aria-label={`Pages of ${what}`} className="flex items-baseline gap-6 py-4 text-soft">
      {at.page > 1 && (
        <a className="link" href={href(at.page - 1)} rel="prev">
          Newer {what}
        </a>
      )}
      <span className="text-faint">
        Page {at.page} of {at.pages}, {at.total} {what}
      </span>
      {at.page < at.pages && (
        <a className="link" href={href(at.page + 1)} rel="next">
          Older {what}
        </a>
      )}
    </nav>
  )
