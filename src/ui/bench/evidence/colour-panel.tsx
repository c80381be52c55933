import { sayWhole } from '#core/measure'
import type { ColourRow, FindingsView } from '#server/view'
import { Mark, Swatch, styled } from '#ui/charts'
import { Heading, Options } from './panel-parts'

const Track = ({ row, most }: { row: ColourRow; most: number }) => {
  const at = (v: number) => `${Math.min(100, (100 * v) / most)}%`
  return (
    <span aria-hidden="true" className="relative block h-4 w-full min-w-28">
      <span className="absolute inset-x-0 top-1/2 h-px bg-line" />
      {row.factory !== undefined && (
        <span className="absolute top-0 -translate-x-1/2" ref={styled({ left: at(row.factory) })}>
          <Mark kind="out-of-box" />
        </span>
      )}
      {row.now !== undefined && (
        <span className="absolute top-0 -translate-x-1/2" ref={styled({ left: at(row.now) })}>
          <Mark kind="now" />
        </span>
      )}
    </span>
  )
}

/** Colour errors, patch by patch, out of the box and now. */
export const ColourPanel = ({
  colour,
  unit,
}: {
  colour: NonNullable<FindingsView['colour']>
  /** What errors are told in. */
  unit: string
}) => {
  const most = Math.max(2, ...colour.rows.flatMap((r) => [r.factory ?? 0, r.now ?? 0])) * 1.05
  const half = Math.ceil(colour.rows.length / 2)
  return (
    <section>
      <Heading note={`${unit} with luminance, from 0 to ${sayWhole(most)} along each line`}>Colours</Heading>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 md:grid-cols-2">
        {[colour.rows.slice(0, half), colour.rows.slice(half)].map((rows, i) => (
          // Two columns of one table, split in the middle.
          <table key={i === 0 ? 'first' : 'second'} className="quiet-table tight">
            <thead>
              <tr>
                <th scope="col">Patch</th>
                <th scope="col" className="w-full">
                  <span className="sr-only">On a line</span>
                </th>
                <th scope="col" className="n">
                  <Mark kind="out-of-box" /> came
                </th>
                <th scope="col" className="n">
                  <Mark kind="now" /> now
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={r.key}>
                  <th scope="row" className="whitespace-nowrap">
                    <span className="flex items-center gap-2">
                      <Swatch className="inline-block size-4 shrink-0 border border-line" rgb={r.swatch} />
                      {r.label}
                    </span>
                  </th>
                  <td>
                    <Track row={r} most={most} />
                  </td>
                  <td className="n text-soft">{r.factory?.toFixed(1) ?? '–'}</td>
                  <td className="n font-semibold">{r.now?.toFixed(1) ?? '–'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ))}
      </div>
      {colour.gamuts.length > 1 && (
        <div className="mt-4 max-w-md">
          <Heading note="error of the primaries, luminance aside">Gamuts</Heading>
          <Options options={colour.gamuts} columns={[{ name: unit, show: ([e]) => e!.toFixed(1) }]} />
        </div>
      )}
    </section>
  )
}
