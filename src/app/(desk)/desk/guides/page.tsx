import Link from 'next/link'
import { listWish } from '#app/params'
import { context } from '#server/base'
import { deskGuides } from '#server/guide'
import { ListSearch } from '#ui/desk'
import { GuideUpload } from '#ui/files'
import { day, Pager } from '#ui/static'

export const dynamic = 'force-dynamic'

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> }

/** Every guide of the desk: drafts, published and withdrawn ones. */
export default async function DeskGuidesPage({ searchParams }: Props) {
  const view = await deskGuides(context(), listWish(await searchParams))
  const { guides, search } = view
  return (
    <>
      <title>Guides · Wexmar</title>
      <h1 className="figure text-5xl">Guides</h1>
      <p className="mt-3 max-w-2xl text-lg text-soft">
        One for each model and size, with all its viewing cases.{' '}
        <a className="link" href="/guides">
          Public pages
        </a>{' '}
        <Link className="link" href="/desk/rechecks">
          Re-checks after a firmware
        </Link>
      </p>
      {(view.pages > 1 || search) && (
        <div className="mt-6">
          <ListSearch action="/desk/guides" search={search} label="Maker or model" />
        </div>
      )}
      {guides.length === 0 ? (
        <p className="mt-8 text-faint text-lg">
          {search ? `No guide of “${search}”.` : 'None yet. A guide is composed at the end of a case.'}
        </p>
      ) : (
        <ul className="mt-8 border-ink border-t">
          {guides.map((g) => (
            <li key={g.id} className="rule-b flex flex-wrap items-baseline gap-x-6 gap-y-1 py-4">
              <Link href={`/desk/guides/${g.id}`} className="figure flex-1 text-2xl hover:underline">
                {g.display}
              </Link>
              <span className="text-soft">{g.cases.join(' · ') || 'nothing published'}</span>
              {g.newerFirmware && (
                <Link className="link text-lamp text-sm" href="/desk/rechecks">
                  firmware {g.newerFirmware} is newer: read it again
                </Link>
              )}
              <span className={g.withdrawn ? 'text-lamp text-sm' : 'text-faint text-sm'}>
                {g.withdrawn
                  ? 'withdrawn'
                  : g.revision === null
                    ? 'draft'
                    : `revision ${g.revision}, ${day(g.publishedAt!)}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      <Pager
        at={view}
        href={(page) =>
          `/desk/guides?${new URLSearchParams({ ...(search ? { q: search } : {}), page: String(page) })}`
        }
        what="guides"
      />
      <section className="mt-12 max-w-2xl">
        <h2 className="figure border-ink border-b pb-2 text-2xl">A guide from elsewhere</h2>
        <p className="my-3 text-soft">
          From the data or archive saved by another installation. It is imported whole or not at all: its
          figures are calculated again from its readings first. It is not public until you publish it.
        </p>
        <GuideUpload />
      </section>
    </>
  )
}
