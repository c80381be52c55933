import type { Page } from './document'

const notice = (title: string, says: string): Page => ({
  title,
  body: (
    <div className="max-w-2xl py-12">
      <h1 className="figure text-5xl leading-none">{title}</h1>
      <p className="mt-4 text-lg text-soft">{says}</p>
      <p className="mt-8 flex flex-wrap gap-4">
        <a className="button button-quiet" href="/guides">
          All guides
        </a>
      </p>
    </div>
  ),
})

/** Where no guide stands. */
export const missingPage = (): Page =>
  notice('Nothing at this address', 'It may have been mistyped, or what stood here was never published.')

/** Where a page cannot be drawn just now. In: the number under which the log has why; empty where nothing is wrong in Wexmar itself. */
export const awayPage = (digest: string): Page =>
  notice(
    'This page is not available now',
    `The guides are still there: try again in a minute.${digest ? ` If it does not come back, give this number to the people who run this site: ${digest}.` : ''}`,
  )
