import type { Axis, Series } from './series'

/** The points of a chart as a table, each opening its reading. */
export const PointTable = ({
  title,
  series,
  x,
  y,
  digits,
  onOpen,
}: {
  title: string
  series: readonly Series[]
  x: Axis
  y: Axis
  digits: { readonly x: number; readonly y: number }
  onOpen?: (reading: number) => void
}) => (
  <table className="quiet-table">
    <caption className="sr-only">{title}</caption>
    <thead>
      <tr>
        <th scope="col">series</th>
        <th scope="col" className="n">
          {x.name}
        </th>
        <th scope="col" className="n">
          {y.name}
        </th>
        {onOpen && (
          <th scope="col">
            <span className="sr-only">reading</span>
          </th>
        )}
      </tr>
    </thead>
    <tbody>
      {series.flatMap((s) =>
        s.points.map((p, i) => (
          <tr key={`${s.label}-${p.id ?? i}-${p.x}`}>
            <th scope="row">{s.label}</th>
            <td className="n">{x.format ? x.format(p.x) : p.x.toFixed(digits.x)}</td>
            <td className="n">{y.format ? y.format(p.y) : p.y.toFixed(digits.y)}</td>
            {onOpen && (
              <td>
                {p.id !== undefined && (
                  <button type="button" className="link" onClick={() => onOpen(p.id!)}>
                    open<span className="sr-only"> reading {p.id}</span>
                  </button>
                )}
              </td>
            )}
          </tr>
        )),
      )}
    </tbody>
  </table>
)
