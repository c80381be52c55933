import { type Context, publicOrigin } from '#server/base'
import {
  type GuideFilter,
  guideAt,
  guideChoices,
  type PublicGuide,
  publishedGuides,
  readingsBehind,
  revisionDifferences,
} from '#server/guide'
import { choosePage, comparePage } from './compare-page'
import type { Page } from './document'
import { guidePage, printPage, revisionPage, withdrawnPage } from './guide-pages'
import { listPage } from './list-page'
import { readingsPage } from './readings-page'

/** A page for readers that is asked for. */
export type Asked =
  | { readonly page: 'list'; readonly search: string; readonly at: number; readonly filter: GuideFilter }
  /** `answer`: what became of a report that was just sent. `alone`: as a file that needs nothing else. */
  | { readonly page: 'guide'; readonly slug: string; readonly answer: string; readonly alone: boolean }
  | { readonly page: 'revision'; readonly slug: string; readonly number: number }
  | { readonly page: 'print'; readonly slug: string }
  | { readonly page: 'readings'; readonly slug: string; readonly case: string; readonly control: string }
  /** `a` and `b`: guides as `slug`, or `slug@3` for a revision. */
  | {
      readonly page: 'compare'
      readonly a: string
      readonly b: string
      readonly search: string
      readonly at: number
    }

/** What was found at an address: a page, the address where it stands now, or nothing. */
type Found = Page | { readonly moved: string } | undefined

/** A published guide that an address names. */
const named = async (ctx: Context, text: string): Promise<PublicGuide | undefined> => {
  const [, slug, number] = /^([a-z0-9-]{1,100})(?:@([1-9]\d{0,8}))?$/.exec(text) ?? []
  const at = slug ? await guideAt(ctx, slug, number ? Number(number) : undefined) : undefined
  return at?.kind === 'guide' && !at.guide.withdrawn ? at.guide : undefined
}

const compare = async (ctx: Context, asked: Asked & { page: 'compare' }): Promise<Found> => {
  const [a, b] = await Promise.all([named(ctx, asked.a), named(ctx, asked.b)])
  if (a && b) return comparePage(a, b)
  return choosePage(a ?? b, await publishedGuides(ctx, { search: asked.search, page: asked.at }))
}

/** A page that hangs on one guide. */
const ofGuide = async (ctx: Context, asked: Exclude<Asked, { page: 'list' | 'compare' }>): Promise<Found> => {
  const origin = publicOrigin()
  const at = await guideAt(ctx, asked.slug, asked.page === 'revision' ? asked.number : undefined)
  // Guides of one viewing case have become sections of the display’s guide.
  if (at?.kind === 'moved')
    return asked.page === 'guide'
      ? { moved: `/guides/${at.slug}${asked.alone ? '.html' : `#${at.case}`}` }
      : asked.page === 'print'
        ? { moved: `/guides/${at.slug}/print` }
        : undefined
  if (!at) return undefined
  const { guide } = at
  if (guide.withdrawn) return withdrawnPage(guide)
  switch (asked.page) {
    case 'guide':
      return guidePage(guide, asked.answer, origin, asked.alone)
    case 'print':
      return printPage(guide, origin)
    case 'revision': {
      const { revision, slug } = guide
      const since = revision > 1 ? await revisionDifferences(ctx, slug, revision - 1, revision) : undefined
      return revisionPage(guide, since, origin)
    }
    case 'readings': {
      const of = guide.document.cases.find((c) => c.viewingCase.key === asked.case)
      const value = of?.values.find((v) => v.control === asked.control)
      const readings = value && (await readingsBehind(ctx, guide.document, asked.case, asked.control))
      return of && value && readings ? readingsPage(guide, of, value, readings) : undefined
    }
  }
}

/** Reads what a page for readers shows. Out: the page, where it has moved to, or undefined where nothing stands. */
export const readPage = async (ctx: Context, asked: Asked): Promise<Found> => {
  if (asked.page === 'compare') return compare(ctx, asked)
  if (asked.page !== 'list') return ofGuide(ctx, asked)
  const { search, at, filter } = asked
  const [view, choices] = await Promise.all([
    publishedGuides(ctx, { search, page: at, filter }),
    guideChoices(ctx),
  ])
  return listPage(view, choices, filter)
}
