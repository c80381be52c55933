import { duration } from '#ui/static'
import { ChangeLine, ChangeSheetCell, clicksInWords, commonPath, Path, setData, sizeFor } from './change'
import { type AskedSet, rowAtHand, type Ticks, tickRows, ticksOf } from './ticks'

/** What a person sets with the remote: one value large, or many as a table that is ticked off while the menu is walked. */
export const SetWithRemote = ({
  ask,
  ticks,
  onTick,
}: {
  ask: AskedSet
  ticks: Ticks
  /** A row was pressed. */
  onTick: (row: string, as: 'done' | 'open') => void
}) => {
  const { changes, walk, cost } = ask
  const [only] = changes
  if (changes.length === 1 && only)
    return (
      <>
        <Path path={only.path} />
        <h1 {...setData(only)}>
          <ChangeLine change={only} size={{ label: 'text-5xl', from: 'text-4xl', to: 'text-7xl' }} />
        </h1>
        <p className="text-lg text-soft">
          Set it with the remote{only.clicks === undefined ? '' : ` (${clicksInWords(only)})`}, then press
          Space. {only.caution}
        </p>
        <p className="text-sm text-faint">{only.memory}</p>
      </>
    )
  const rows = tickRows(changes)
  const now = rowAtHand(ask, ticks)
  const { done, out } = ticksOf(ask, ticks)
  const shared = commonPath(changes)
  const set = rows.filter((r) => done.includes(r.key) || out.includes(r.key)).length
  const [first] = now?.changes ?? []
  // Labels that repeat from row to row are columns.
  const labels = rows.some((r) => r.changes.length > 1)
    ? [...new Set([...changes].sort((a, b) => a.place - b.place).map((c) => c.label))]
    : []
  return (
    <>
      <p className="flex flex-wrap items-baseline gap-x-4 text-soft">
        <span>
          {changes.length} values, {cost.clicks} clicks and {walk} presses between them
          {cost.seconds ? `, about ${duration(cost.seconds)}` : ''}
        </span>
        <span className="num ml-auto" aria-live="polite">
          {set} of {rows.length} {rows.length === 1 ? 'row' : 'rows'} set
        </span>
      </p>
      <div className="flex h-2 gap-[2px]" aria-hidden="true">
        {rows.map((r) => (
          <span
            key={r.key}
            className={`flex-1 ${done.includes(r.key) ? 'bg-ink' : out.includes(r.key) ? 'bg-lamp' : r.key === now?.key ? 'bg-faint' : 'bg-line'}`}
          />
        ))}
      </div>
      <div className="min-h-32">
        {first ? (
          <>
            <Path path={first.path} />
            <h1 className="grid gap-1">
              {now!.changes.map((c) => (
                <ChangeLine key={c.control} change={c} size={sizeFor(Math.max(3, now!.changes.length))} />
              ))}
            </h1>
            {first.caution && <p className="text-soft">{first.caution}</p>}
          </>
        ) : (
          <h1 className="figure text-5xl">All set</h1>
        )}
      </div>
      {shared.length > 0 && <p className="text-sm text-faint">{shared.join(' › ')}</p>}
      <ol className="grid items-start gap-x-10 bench:grid-flow-col bench:grid-cols-2">
        {[rows.slice(0, Math.ceil(rows.length / 2)), rows.slice(Math.ceil(rows.length / 2))].map(
          (half, i) => (
            <li key={i === 0 ? 'first' : 'second'}>
              {labels.length > 0 && (
                <p className="rule-b flex justify-end pb-1 text-sm text-faint" aria-hidden="true">
                  {labels.map((l) => (
                    <span key={l} className="w-21 text-right">
                      {l}
                    </span>
                  ))}
                </p>
              )}
              <ul>
                {half.map((r) => {
                  const state = done.includes(r.key) ? 'done' : out.includes(r.key) ? 'out' : 'open'
                  return (
                    <li key={r.key} className={`rule-b ${r.key === now?.key ? 'bg-raised' : ''}`}>
                      <label className="flex min-h-8 flex-wrap items-baseline gap-x-3 py-1">
                        <input
                          type="checkbox"
                          tabIndex={-1}
                          className="translate-y-0.5"
                          checked={state === 'done'}
                          onChange={() => onTick(r.key, state === 'open' ? 'done' : 'open')}
                        />
                        <span
                          className={
                            state === 'done' ? 'text-faint' : state === 'out' ? 'text-lamp line-through' : ''
                          }
                        >
                          {r.name}
                          {state === 'out' && <span className="sr-only"> could not be set</span>}
                        </span>
                        <span className="num ml-auto flex text-sm">
                          {labels.length > 0
                            ? labels.map((l) => {
                                const change = r.changes.find((c) => c.label === l)
                                return (
                                  <span key={l} className="w-21 text-right">
                                    {change ? (
                                      <ChangeSheetCell change={change} />
                                    ) : (
                                      <span className="text-faint">·</span>
                                    )}
                                  </span>
                                )
                              })
                            : r.changes.map((c) => <ChangeSheetCell key={c.control} change={c} />)}
                        </span>
                      </label>
                    </li>
                  )
                })}
              </ul>
            </li>
          ),
        )}
      </ol>
    </>
  )
}
