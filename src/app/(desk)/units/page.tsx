import Link from 'next/link'
import { listWish } from '#app/params'
import { context } from '#server/base'
import { unitsView } from '#server/unit'
import { AddUnit, ListSearch, Trail, UnitRow } from '#ui/desk'
import { Pager } from '#ui/static'

export const dynamic = 'force-dynamic'

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> }

export default async function UnitsPage({ searchParams }: Props) {
  const params = await searchParams
  const wish = listWish(params)
  const model = typeof params.model === 'string' ? params.model.slice(0, 80) : undefined
  const view = await unitsView(context(), { ...wish, model })
  const kept = { ...(model ? { model } : {}) }
  return (
    <>
      <title>Units · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure text-5xl">Units</h1>
      <div className="mt-6 flex flex-wrap items-end justify-between gap-x-10 gap-y-4">
        <ListSearch
          action="/units"
          search={view.search}
          label="Maker, model, name, serial or where it came from"
          hidden={kept}
        />
        <AddUnit />
      </div>
      {model && (
        <p className="mt-4 text-soft">
          Only units of one model.{' '}
          <Link className="link" href="/units">
            Show all
          </Link>
        </p>
      )}
      {view.units.length === 0 ? (
        <p className="mt-8 text-lg text-faint">
          {view.search ? `No unit holds “${view.search}”.` : 'No unit yet.'}
        </p>
      ) : (
        <ul className="mt-6 border-ink border-t">
          {view.units.map((u) => (
            <UnitRow key={u.id} unit={u} />
          ))}
        </ul>
      )}
      <Pager
        at={view}
        href={(page) =>
          `/units?${new URLSearchParams({ ...kept, ...(view.search ? { q: view.search } : {}), page: String(page) })}`
        }
        what="units"
      />
    </>
  )
}
