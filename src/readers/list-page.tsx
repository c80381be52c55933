import type { ReactNode } from 'react'
import { panelLabel } from '#core/entry'
import type { GuideChoices, GuideFilter, GuidesView } from '#server/guide'
import { day, Pager } from '#ui/static'
import type { Page } from './document'

const Choice = ({
  name,
  label,
  chosen,
  options,
}: {
  name: keyof GuideFilter
  label: string
  chosen: string
  options: ReadonlyArray<readonly [value: string, text: string]>
}) =>
  (options.length > 1 || chosen) && (
    <label className="grid gap-1 text-sm text-soft">
      {label}
      <select name={name} defaultValue={chosen} className="field">
        <option value="">all</option>
        {options.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
    </label>
  )

const Search = ({
  search,
  filter,
  choices,
}: {
  search: string
  filter: GuideFilter
  choices: GuideChoices
}) => (
  <form action="/guides" className="mt-8 flex flex-wrap items-end gap-3">
    <label className="grid gap-1 text-sm text-soft">
      Maker, model or words
      <input type="search" name="q" defaultValue={search} maxLength={100} className="field w-64" />
    </label>
    <Choice name="maker" label="Maker" chosen={filter.maker} options={choices.makers.map((m) => [m, m])} />
    <Choice
      name="panel"
      label="Panel"
      chosen={filter.panel}
      options={choices.panels.map((p) => [p, panelLabel(p)])}
    />
    <Choice
      name="size"
      label="Size"
      chosen={filter.size}
      options={choices.sizes.map((inch) => [String(inch), `${inch} inch`])}
    />
    <Choice
      name="case"
      label="Viewing case"
      chosen={filter.case}
      options={choices.cases.map((c) => [c.key, c.label])}
    />
    <label className="grid gap-1 text-sm text-soft">
      Firmware
      <input name="firmware" defaultValue={filter.firmware} maxLength={80} className="field w-28" />
    </label>
    <button type="submit" className="button button-quiet">
      Search
    </button>
    {isFiltered(search, filter) && (
      <a className="link self-center" href="/guides">
        Show all
      </a>
    )}
  </form>
)

const isFiltered = (search: string, filter: GuideFilter): boolean =>
  search !== '' || Object.values(filter).some(Boolean)

const Guides = ({ guides, filtered }: Pick<GuidesView, 'guides'> & { filtered: boolean }): ReactNode =>
  guides.length === 0 ? (
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
  )

/** The published guides, searched and filtered. */
export const listPage = (view: GuidesView, choices: GuideChoices, filter: GuideFilter): Page => ({
  title: 'Settings guides',
  head: (
    <>
      <meta
        name="description"
        content="Settings for displays, measured with a meter, one display at a time."
      />
      <link rel="alternate" type="application/atom+xml" title="Settings guides" href="/guides/feed.xml" />
    </>
  ),
  body: (
    <>
      <h1 className="figure text-5xl sm:text-6xl">Settings guides</h1>
      <p className="mt-3 max-w-2xl text-xl text-soft">
        Measured with a meter, one display at a time. Each says which unit, which firmware, and which values
        are safe to copy.
      </p>
      <Search search={view.search} filter={filter} choices={choices} />
      <Guides guides={view.guides} filtered={isFiltered(view.search, filter)} />
      <Pager
        at={view}
        href={(page) =>
          `/guides?${new URLSearchParams({
            ...(view.search ? { q: view.search } : {}),
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
  ),
})
