import type { ReactNode } from 'react'
import type { OptionRow } from '#server/view'

export const Heading = ({ children, note }: { children: ReactNode; note?: string }) => (
  <h2 className="mb-1 flex flex-wrap items-baseline gap-x-3 font-semibold">
    {children}
    {note && <span className="text-sm font-normal text-faint">{note}</span>}
  </h2>
)

/** Values of a control side by side, with what each measures. */
export const Options = ({
  options,
  columns,
}: {
  options: readonly OptionRow[]
  columns: ReadonlyArray<{ name: string; unit?: string; show: (figures: readonly number[]) => string }>
}) => (
  <table className="quiet-table tight">
    <thead>
      <tr>
        <th scope="col">Value</th>
        {columns.map((c) => (
          <th key={c.name} scope="col" className="n">
            {c.name}
            {c.unit && <span className="block">{c.unit}</span>}
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {options.map((o) => (
        <tr key={o.label}>
          <th scope="row" className={o.chosen ? 'font-bold! text-ink!' : ''}>
            {o.label}
            {o.chosen && <span className="font-normal text-faint">, chosen</span>}
            {!o.measured && <span className="text-faint">, from an earlier case</span>}
          </th>
          {columns.map((c) => (
            <td key={c.name} className="n">
              {c.show(o.figures)}
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
)
