import { Fragment } from 'react'
import type { ChangeView } from '#server/view'

/** Where a control lies in the menu. */
export const Path = ({ path }: { path: readonly string[] }) => (
  <p className="flex flex-wrap gap-x-2 text-soft">
    {path.map((p, i) => (
      <Fragment key={p}>
        {i > 0 && <span aria-hidden="true">›</span>}
        <span>{p}</span>
      </Fragment>
    ))}
  </p>
)

export const clicksInWords = ({ clicks }: ChangeView): string =>
  clicks === undefined
    ? ''
    : `${Math.abs(clicks)} ${Math.abs(clicks) === 1 ? 'click' : 'clicks'} ${clicks > 0 ? 'up' : 'down'}`

export interface Size {
  readonly label: string
  readonly from: string
  readonly to: string
}
/** The fewer controls an adjustment has, the larger they stand. */
const SIZES: readonly Size[] = [
  { label: 'text-6xl', from: 'text-5xl', to: 'text-8xl' },
  { label: 'text-5xl', from: 'text-4xl', to: 'text-7xl' },
  { label: 'text-3xl', from: 'text-2xl', to: 'text-5xl' },
]
export const sizeFor = (changes: number): Size => SIZES[Math.min(changes, SIZES.length) - 1]!

/** One control of an adjustment, readable from two metres. In: change; the page it stands on, where that is not said above it. */
export const ChangeLine = ({
  change,
  size,
  page = '',
}: {
  change: ChangeView
  size: Size
  page?: string
}) => (
  <div className="flex items-baseline gap-x-4 max-sm:flex-wrap">
    <span className={`figure ${size.label}`}>
      {page && <span className="block text-lg font-normal text-soft">{page} ›</span>}
      {change.label}
      <span className="block text-base font-normal text-soft">{change.term}</span>
    </span>
    <span className={`figure font-normal text-faint ${size.from}`}>{change.from}</span>
    <span className="sr-only">to</span>
    <span className={`figure text-lamp leading-none ${size.to}`}>{change.to}</span>
    <span className="ml-auto text-right font-semibold whitespace-nowrap">{clicksInWords(change)}</span>
  </div>
)

/** Most controls of an adjustment that stand in large figures; more of them make a page of the menu. */
export const MOST_LARGE = 4

/** Path that all changes have in common. */
export const commonPath = (changes: readonly ChangeView[]): readonly string[] => {
  const [first] = changes
  if (!first) return []
  let n = 0
  while (n < first.path.length && changes.every((c) => c.path[n] === first.path[n])) n++
  return first.path.slice(0, n)
}

/** Many controls at once, in the order of the menu: one row for each page of it, one column for each label. */
export const ChangeSheet = ({ changes }: { changes: readonly ChangeView[] }) => {
  const shared = commonPath(changes).length
  const rows = new Map<string, ChangeView[]>()
  for (const c of changes) {
    const name = c.path.slice(shared).join(' › ')
    rows.set(name, [...(rows.get(name) ?? []), c])
  }
  const columns = [...new Set([...changes].sort((a, b) => a.place - b.place).map((c) => c.label))]
  // Where labels repeat from row to row they are columns; otherwise each control has a line of its own.
  const asColumns = rows.size > 1 && columns.length <= 4
  const list = [...rows]
  // A long page of the menu stands in two columns, so that all of it is seen at once.
  const half = list.length > 8 ? Math.ceil(list.length / 2) : list.length
  if (asColumns)
    return (
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-x-10 md:grid-cols-2">
        {[list.slice(0, half), list.slice(half)].map(
          (part, i) =>
            part.length > 0 && (
              <table key={i === 0 ? 'first' : 'second'} className="quiet-table tight">
                <thead>
                  <tr>
                    <th scope="col">Menu</th>
                    {columns.map((c) => (
                      <th key={c} scope="col" className="n">
                        {c}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {part.map(([name, own]) => (
                    <tr key={name}>
                      <th scope="row" className="whitespace-nowrap text-ink!">
                        {name}
                      </th>
                      {columns.map((label) => {
                        const change = own.find((c) => c.label === label)
                        return (
                          <td key={label} className="n">
                            {change ? <FromTo change={change} /> : <span className="text-faint">·</span>}
                          </td>
                        )
                      })}
                    </tr>
                  ))}
                </tbody>
              </table>
            ),
        )}
      </div>
    )
  return (
    <table className="quiet-table tight">
      <thead>
        <tr>
          <th scope="col">Control</th>
          <th scope="col" className="n">
            From → to
          </th>
        </tr>
      </thead>
      <tbody>
        {changes.map((c) => (
          <tr key={c.control}>
            <th scope="row" className="text-ink!">
              {[...c.path.slice(shared), c.label].join(' › ')}
            </th>
            <td className="n">
              <FromTo change={c} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** What a value is to be set to, for whoever reads the page by program. */
export const setData = ({ path, label, to }: ChangeView) => ({
  'data-set': to,
  'data-path': path.join(' › '),
  'data-label': label,
})

/** One value of a row that is ticked off. */
export const ChangeSheetCell = ({ change }: { change: ChangeView }) => (
  <span className="whitespace-nowrap" {...setData(change)}>
    <span className="sr-only">{change.label} </span>
    <FromTo change={change} />
  </span>
)

const FromTo = ({ change }: { change: ChangeView }) => (
  <>
    <span className="text-faint">{change.from}</span> <span aria-hidden="true">→</span>
    <span className="sr-only">to</span> <strong className="text-base text-lamp">{change.to}</strong>
  </>
)
