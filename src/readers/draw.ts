import type { Context } from '#server/base'
import { DESK } from '#server/guide'
import { type Around, documentOf, type Page } from './document'
import { awayPage, missingPage } from './other-pages'
import { type Asked, readPage } from './read'

/** A page for readers as it is answered: its markup and status, or the address where it stands now. */
export type ReadersPage =
  | { readonly status: 200 | 404; readonly html: string }
  | { readonly status: 308; readonly moved: string }

const markup = async (page: Page, around: Around): Promise<string> => {
  // Imported where it is used: the framework forbids it to its own pages.
  const { renderToStaticMarkup } = await import('react-dom/server')
  const { head, body } = documentOf(page, around, DESK)
  const html = `<!DOCTYPE html><html lang="en"><head>${renderToStaticMarkup(head)}</head><body>${renderToStaticMarkup(body)}</body></html>`
  // From a file that is opened anywhere, addresses lead back here.
  return 'text' in around.style
    ? html.replace(/\b(href|src)="\/(?!\/)/g, (_, name) => `${name}="${around.origin}/`)
    : html
}

/**
 * A page for readers, read and drawn as static markup: whatever runs in a browser has no place in it. In: which page; what stands around it. Out: page,
 * with 404 where nothing stands at its address.
 */
export const readersPage = async (ctx: Context, asked: Asked, around: Around): Promise<ReadersPage> => {
  const found = await readPage(ctx, asked)
  if (!found) return { status: 404, html: await markup(missingPage(), around) }
  return 'moved' in found
    ? { status: 308, moved: found.moved }
    : { status: 200, html: await markup(found, around) }
}

/** The page that stands in the place of one that cannot be drawn just now; it needs no database. In: number in the log, empty where Wexmar itself is well. */
export const awayMarkup = (digest: string, around: Around): Promise<string> =>
  markup(awayPage(digest), around)
