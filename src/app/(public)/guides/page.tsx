import { filterWish, listWish } from '#app/params'
import { panelLabel } from '#core/entry'
import { context } from '#server/base'
import { ALL_GUIDES, type GuideFilter, guideChoices, publishedGuides } from '#server/guide'
import { day, Pager } from '#ui/desk'

export const dynamic = 'force-dynamic'

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> }

export default async function GuidesPage({ searchParams }: Props) {
  const params = await searchParams
  const filter: GuideFilter = filterWish(params, Object.keys(ALL_GUIDES) as Array<keyof GuideFilter>)
  const [view, choices] = await Promise.all([
    publishedGuides(context(), { ...listWish(params), filter }),
    guideChoices(context()),
  ])
  const { guides, search } = view
  const filtered = search !== '' || Object.values(filter).some(Boolean)
  const select = (
    name: keyof GuideFilter,
    label: string,
    options: ReadonlyArray<readonly [value: string, text: string]>,
  ) =>
    (options.length > 1 || filter[name]) && (
      <label className="grid gap-1 text-sm text-soft">
        {label}
        <select name={name} defaultValue={filter[name]} className="field">
          <option value="">all</option>
          {options.map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      </label>
    )
  return (
    <>
      <title>Settings guides</title>
      <link rel="alternate" type="application/atom+xml" title="Settings guides" href="/guides/feed.xml" />
      <h1 className="figure text-5xl sm:text-6xl">Settings guides</h1>
      <p className="mt-3 max-w-2xl text-xl text-soft">
        Measured with a meter, one display at a time. Each says which unit, which firmware, and which values
        are safe to copy.
      </p>
      <form action="/guides" className="mt-8 flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-sm text-soft">
          Maker, model or words
          <input type="search" name="q" defaultValue={search} maxLength={100} className="field w-64" />
        </label>
        {select(
          'maker',
          'Maker',
          choices.makers.map((m) => [m, m]),
        )}
        {select(
          'panel',
          'Panel',
          choices.panels.map((p) => [p, panelLabel(p)]),
        )}
        {select(
          'size',
          'Size',
          choices.sizes.map((inch) => [String(inch), `${inch} inch`]),
        )}
        {select(
          'case',
          'Viewing case',
          choices.cases.map((c) => [c.key, c.label]),
        )}
        <label className="grid gap-1 text-sm text-soft">
          Firmware
          <input name="firmware" defaultValue={filter.firmware} maxLength={80} className="field w-28" />
        </label>
        <button type="submit" className="button button-quiet">
          Search
        </button>
        {filtered && (
          <a className="link self-center" href="/guides">
            Show all
          </a>
        )}
      </form>
      {guides.length === 0 ? (
        <p className="mt-10 text-lg text-faint">
          {filtered ? 'No guide matches.' : 'No guide is published yet.'}
        </p>
      ) : (
        <ul className="mt-8 border-ink border-t">
          {guides.map((g) => (
            <li key={g.slug} className="rule-b py-6">
              <a href={`/guides/${g.slug}`} className="figure text-3xl hover:underline">
                {g.title}
              </a>
              <p className="mt-1 max-w-3xl text-lg text-soft">{g.summary}</p>
              <p className="mt-1 text-sm text-faint">
                {g.cases.join(' · ')}. Firmware {g.firmwares.join(', ')}. Revision {g.revision},{' '}
                {day(g.publishedAt)}
              </p>
            </li>
          ))}
        </ul>
      )}
      <Pager
        at={view}
        href={(page) =>
          `/guides?${new URLSearchParams({
            ...(search ? { q: search } : {}),
            ...Object.fromEntries(Object.entries(filter).filter(([, v]) => v)),
            page: String(page),
          })}`
        }
        what="guides"
      />
      <p className="mt-8 text-sm text-faint">
        <a className="link" href="/guides/feed.xml">
          Feed of new and revised guides
        </a>
      </p>
    </>
  )
}
