import Link from 'next/link'
import type { ReactNode } from 'react'
import type { SessionHeaderView } from '#server/views'
import { ThemeSwitch } from '#ui/desk'

const Cell = ({ name, warn, children }: { name: string; warn?: boolean; children: ReactNode }) => (
  <div className="shrink-0 border-line border-r px-3.5 py-2 last:border-r-0">
    <dt className="text-xs text-faint">{name}</dt>
    <dd className={`flex items-center gap-2 font-semibold whitespace-nowrap ${warn ? 'text-lamp' : ''}`}>
      {warn !== undefined && (
        <span
          aria-hidden="true"
          className={warn ? 'size-2 border border-lamp' : 'size-2 rounded-full bg-ink'}
        />
      )}
      {children}
    </dd>
  </div>
)

/** The strip on top: what stands there, what it shows, whether it can be trusted. Wrong here is wrong everywhere. */
export const SessionHeader = ({
  header,
  unitId,
  lost,
  target,
  onTarget,
  onPlaceUnit,
}: {
  header: SessionHeaderView
  unitId: number
  lost: boolean
  target: string
  /** Opens the target; missing while a run goes on. */
  onTarget?: () => void
  onPlaceUnit: () => void
}) => (
  <header>
    <div className="rule-b flex items-stretch">
      <Link href="/" className="figure flex items-center border-line border-r px-4 text-lg" title="Home">
        W<span className="sr-only">exmar, home</span>
      </Link>
      <dl className="flex min-w-0 flex-1 overflow-x-auto">
        <Cell name={`${header.unit}, firmware ${header.firmware}`}>
          <Link href={`/units/${unitId}`} className="hover:underline">
            {header.display}
          </Link>
        </Cell>
        <Cell name="Viewing case">{header.viewingCase}</Cell>
        <Cell name="Target white">
          <button type="button" className="hover:underline" onClick={onTarget} disabled={!onTarget}>
            {target}
          </button>
        </Cell>
        <Cell name={header.modeChosen ? 'Picture mode' : 'Current mode'}>{header.baseMode}</Cell>
        <Cell name="Signal now">{header.signal}</Cell>
        <Cell name="Powered on for" warn={header.warmUp.warn}>
          {header.warmUp.text}
        </Cell>
        <Cell name="Meter" warn={header.meter.warn}>
          {header.meter.text}
        </Cell>
        <Cell name="Drift" warn={header.drift.warn ? true : undefined}>
          {header.drift.text}
        </Cell>
      </dl>
      <div className="flex items-center px-3">
        <ThemeSwitch place="bench" />
      </div>
    </div>
    {(lost || header.warnings.length > 0) && (
      <div
        role="alert"
        className="rule-b flex flex-wrap items-center gap-x-6 gap-y-1 bg-raised px-4 py-2 text-lamp"
      >
        {lost && (
          <p>
            This page does not hear from Wexmar. Readings are kept on the server; it connects again by itself.
          </p>
        )}
        {header.warnings.map((w) => (
          <p key={w}>{w}</p>
        ))}
        {header.placeUnit && (
          <button type="button" className="button button-quiet min-h-9 text-sm" onClick={onPlaceUnit}>
            Put {header.unit} on the stand
          </button>
        )}
      </div>
    )}
  </header>
)
