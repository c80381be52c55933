import type { MappingRow, NextView } from '#server/view'
import { MappingChart } from '#ui/charts'

/** Schools of tone mapping as they are named. */
const MAPPING_LABEL: Readonly<Record<MappingRow['mapping'], string>> = {
  clip: 'Clip',
  'roll-off': 'Roll-off',
  dynamic: 'Dynamic',
}

/** What the display offers for light beyond its reach: each value with its school and its price in numbers, and all curves in one chart. */
export const ChooseMapping = ({
  next,
  options,
  marked,
  onMark,
}: {
  next: Extract<NextView, { kind: 'choose-mapping' }>
  options: readonly MappingRow[]
  marked: string
  onMark: (value: string) => void
}) => (
  <>
    <p className="text-soft">“{next.control}”: light that is brighter than the panel</p>
    <h1 className="figure text-4xl">
      Tone mapping:{' '}
      <span className="text-lamp">{options.find((o) => o.value === marked)?.label ?? marked}</span>
    </h1>
    <div className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-2">
      <ul className="grid content-start gap-2">
        {options.map((o, i) => {
          const here = o.value === marked
          return (
            <li key={o.value}>
              <button
                type="button"
                className={`flex min-h-11 w-full items-start gap-3 border-l-2 py-1 pl-3 text-left ${here ? 'border-lamp' : 'border-line'}`}
                aria-pressed={here}
                onClick={() => onMark(String(o.value))}
              >
                <span className="key shrink-0">{i + 1}</span>
                <span>
                  <strong className={here ? 'text-lamp' : ''}>{o.label}</strong>
                  <span className="text-soft">
                    {' '}
                    · {MAPPING_LABEL[o.mapping]}
                    {o.value === next.proposed &&
                      (o.mapping === next.wanted
                        ? `, as “${next.policy}” asks`
                        : `, proposed: nothing here is what “${next.policy}” asks for (${next.wanted})`)}
                  </span>
                  <span className="block">{o.sentence}</span>
                </span>
              </button>
            </li>
          )
        })}
      </ul>
      <MappingChart
        height={270}
        options={options.map((o) => ({ label: o.label, marked: o.value === marked, curve: o.curve }))}
      />
    </div>
  </>
)
