import Link from 'next/link'
import type { ReactNode } from 'react'
import type { PlateView } from '#server/views'
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
export const Plate = ({
  plate,
  unitId,
  lost,
  target,
  onTarget,
  onPlaceUnit,
}: {
  plate: PlateView
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
        <Cell name={`${plate.unit}, firmware ${plate.firmware}`}>
          <Link href={`/units/${unitId}`} className="hover:underline">
            {plate.display}
          </Link>
        </Cell>
        <Cell name="Viewing case">{plate.viewingCase}</Cell>
        <Cell name="White aims at">
          <button type="button" className="hover:underline" onClick={onTarget} disabled={!onTarget}>
            {target}
          </button>
        </Cell>
        <Cell name={plate.modeChosen ? 'Picture mode' : 'Mode that is on'}>{plate.baseMode}</Cell>
        <Cell name="Signal now">{plate.signal}</Cell>
        <Cell name="On for" warn={plate.warmUp.warn}>
          {plate.warmUp.text}
        </Cell>
        <Cell name="Meter" warn={plate.meter.warn}>
          {plate.meter.text}
        </Cell>
        <Cell name="Drift" warn={plate.drift.warn ? true : undefined}>
          {plate.drift.text}
        </Cell>
      </dl>
      <div className="flex items-center px-3">
        <ThemeSwitch place="bench" />
      </div>
    </div>
    {(lost || plate.warnings.length > 0) && (
      <div
        role="alert"
        className="rule-b flex flex-wrap items-center gap-x-6 gap-y-1 bg-raised px-4 py-2 text-lamp"
      >
        {lost && (
          <p>
            This page does not hear from Wexmar. Readings are kept on the server; it connects again by itself.
          </p>
        )}
        {plate.warnings.map((w) => (
          <p key={w}>{w}</p>
        ))}
        {plate.placeUnit && (
          <button type="button" className="button button-quiet min-h-9 text-sm" onClick={onPlaceUnit}>
            Put {plate.unit} on the stand
          </button>
        )}
      </div>
    )}
  </header>
)
