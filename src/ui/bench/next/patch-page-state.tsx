'use client'

import type { AskView } from '#server/view'
import { QrCode } from '#ui/desk'

type Page = NonNullable<Extract<AskView, { kind: 'show' | 'read' }>['page']>

/** Whether a page shows the patch that is asked for; where none does, how to open one. */
export const PatchPageState = ({ page }: { page: Page }) => {
  if (page.stands)
    return (
      <p className="flex items-baseline gap-2 text-sm text-soft">
        <span aria-hidden="true" className="size-2 shrink-0 rounded-full bg-ink" />
        The patch page shows it: {page.account}. 8 bit, full range: the display’s signal range must be full or
        automatic.
      </p>
    )
  if (page.account)
    return (
      <p role="status" className="flex items-baseline gap-2 text-lamp">
        <span aria-hidden="true" className="size-2 shrink-0 border border-lamp" />
        The patch page has not shown this patch yet. Press Enter on it if it waits.
      </p>
    )
  return (
    <div role="status" className="flex flex-wrap items-center gap-5 border border-lamp p-3">
      {page.reachable && <QrCode text={page.address} />}
      <div className="min-w-0">
        <p className="font-semibold text-lamp">No page is showing this patch.</p>
        <p className="text-soft">
          On the display under test, open{' '}
          <a
            className="link num text-sm break-all text-ink"
            href={page.address}
            target="_blank"
            rel="noreferrer"
          >
            {page.address}
          </a>{' '}
          and press Enter there.
        </p>
        {!page.reachable && (
          <p className="text-sm text-faint">
            This address works on this computer only: drag a window of its browser onto the display, or set
            WEXMAR_ORIGIN so that other devices reach it.
          </p>
        )}
      </div>
    </div>
  )
}
