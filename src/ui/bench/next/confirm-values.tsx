'use client'

import type { ControlView, NextView } from '#server/view'

type Row = ControlView

/** Rows of one page of the menu that come by the dozen and show the same are one line. */
const DOZEN = 6
interface Group {
  readonly path: string
  readonly rows: readonly Row[]
  /** What all of them show, where they are many; else they stand one by one. */
  readonly together: string | undefined
}
const groupsOf = (rows: readonly Row[]): Group[] => {
  const groups: Array<{ path: string; rows: Row[] }> = []
  for (const row of rows) {
    const path = row.path.join(' › ')
    const last = groups.at(-1)
    if (last?.path === path && (last.rows.length < DOZEN || last.rows[0]?.shown === row.shown))
      last.rows.push(row)
    else groups.push({ path, rows: [row] })
  }
  return groups.map(({ path, rows: own }) => ({
    path,
    rows: own,
    together: own.length >= DOZEN && own.every((r) => r.shown === own[0]?.shown) ? own[0]?.shown : undefined,
  }))
}

const Field = ({ row, text, onText }: { row: Row; text: string; onText: (text: string) => void }) => (
  <li className="rule-b grid grid-cols-[minmax(0,1fr)_9rem] items-center gap-4 py-1">
    <label htmlFor={`shown-${row.key}`}>{row.label}</label>
    {row.choices ? (
      <select
        id={`shown-${row.key}`}
        className="field"
        value={text || String(row.value)}
        onChange={(e) => onText(e.target.value)}
      >
        {row.choices.map((c) => (
          <option key={c.value} value={c.value}>
            {c.label}
          </option>
        ))}
      </select>
    ) : (
      <input
        id={`shown-${row.key}`}
        className="field num"
        inputMode="numeric"
        autoComplete="off"
        placeholder={row.shown}
        value={text}
        maxLength={20}
        onChange={(e) => onText(e.target.value)}
      />
    )}
  </li>
)

/** Values that nobody has seen where the display shows them now: a person looks through the menu once and changes those that differ. */
export const ConfirmValues = ({
  next,
  shown,
  onShown,
}: {
  next: Extract<NextView, { kind: 'confirm-values' }>
  shown: Readonly<Record<string, string>>
  onShown: (control: string, text: string) => void
}) => {
  const fields = (rows: readonly Row[]) => (
    <ul>
      {rows.map((row) => (
        <Field
          key={row.key}
          row={row}
          text={shown[row.key] ?? ''}
          onText={(text) => onShown(row.key, text)}
        />
      ))}
    </ul>
  )
  const { length } = next.rows
  return (
    <>
      <p className="text-soft">
        {next.baseMode ? `Picture mode ${next.baseMode}` : 'Before anything is read'}
      </p>
      <h1 className="figure text-5xl">
        Check <span className="font-normal text-lamp">{length}</span> {length === 1 ? 'value' : 'values'} in
        the menu
      </h1>
      <p className="text-lg">
        No one has looked at {length === 1 ? 'this value' : 'these values'} here yet. Walk through the menu
        once: change what shows something else, then press Space.
      </p>
      <div className="max-w-2xl">
        {groupsOf(next.rows).map((group) =>
          group.together === undefined ? (
            <section key={`${group.path} ${group.rows[0]?.key}`} className="mt-3">
              <h2 className="text-faint text-sm">{group.path}</h2>
              {fields(group.rows)}
            </section>
          ) : (
            <details key={`${group.path} ${group.rows[0]?.key}`} className="rule-b mt-3 py-1">
              <summary className="flex cursor-pointer items-baseline gap-4">
                <span className="min-w-0 flex-1">
                  <span className="text-faint text-sm">{group.path} › </span>
                  all {group.rows.length} rows
                </span>
                <strong className="num">{group.together}</strong>
              </summary>
              {fields(group.rows)}
            </details>
          ),
        )}
      </div>
    </>
  )
}
