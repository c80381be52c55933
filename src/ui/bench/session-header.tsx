import Link from 'next/link'
import { type ReactNode, useEffect, useState } from 'react'
import { USUAL_WARM_UP } from '#core/measure'
import type { SessionHeaderView } from '#server/view'
import { ThemeSwitch } from '#ui/desk'

const Cell = ({
  name,
  warn,
  folds = true,
  open = false,
  children,
}: {
  name: string
  warn?: boolean
  /** On a phone it stands only in the strip that is opened, unless it warns. */
  folds?: boolean
  open?: boolean
  children: ReactNode
}) => (
  <div
    className={`shrink-0 border-line px-3.5 py-2 max-bench:py-1 bench:border-r bench:last:border-r-0 ${folds && !warn && !open ? 'max-bench:hidden' : ''}`}
  >
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
  targetName,
  onTarget,
  onPlaceUnit,
}: {
  header: SessionHeaderView
  unitId: number
  lost: boolean
  target: string
  targetName: string
  /** Opens the target; missing while a run goes on. */
  onTarget?: () => void
  onPlaceUnit: () => void
}) => {
  const [open, setOpen] = useState(false)
  const warmUp = useWarmUp(header.warmUp)
  return (
    <header>
      <div className="rule-b flex items-stretch">
        <Link href="/" className="figure flex items-center border-line border-r px-4 text-lg" title="Home">
          W<span className="sr-only">exmar, home</span>
        </Link>
        <dl className="flex min-w-0 flex-1 max-bench:flex-wrap bench:overflow-x-auto">
          <Cell folds={false} name={`${header.unit}, firmware ${header.firmware}`}>
            <Link href={`/units/${unitId}`} className="hover:underline">
              {header.display}
            </Link>
          </Cell>
          <Cell open={open} name="Viewing case">
            {header.viewingCase}
          </Cell>
          <Cell open={open} name={targetName}>
            <button type="button" className="hover:underline" onClick={onTarget} disabled={!onTarget}>
              {target}
            </button>
          </Cell>
          <Cell open={open} name={header.modeChosen ? 'Picture mode' : 'Current mode'}>
            {header.baseMode}
          </Cell>
          <Cell open={open} name="Signal now">
            {header.signal}
          </Cell>
          <Cell open={open} name="Powered on for" warn={warmUp.warn}>
            {warmUp.text}
          </Cell>
          <Cell open={open} name="Meter" warn={header.meter.warn}>
            {header.meter.text}
          </Cell>
          {header.drift.text !== 'not watched' && (
            <Cell open={open} name="Drift" warn={header.drift.warn ? true : undefined}>
              {header.drift.text}
            </Cell>
          )}
        </dl>
        <div className="flex items-center gap-3 px-3">
          <button
            type="button"
            className="text-sm text-soft bench:hidden"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {open ? 'Less' : 'More'}
          </button>
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
              This page does not hear from Wexmar. Readings are kept on the server; it connects again by
              itself.
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
}

/** How often the page counts on how long a display has been on, ms. */
const COUNT_MS = 20_000

/** How long the display has been on, counted on where a person said when it was switched on. */
const useWarmUp = ({ text, warn, since }: SessionHeaderView['warmUp']) => {
  const [now, setNow] = useState<number>()
  useEffect(() => {
    if (!since) return
    setNow(Date.now())
    const timer = setInterval(() => setNow(Date.now()), COUNT_MS)
    return () => clearInterval(timer)
  }, [since])
  if (!since || now === undefined) return { text, warn }
  const seconds = (now - Date.parse(since)) / 1000
  const cold = seconds < USUAL_WARM_UP
  return {
    text: `${Math.max(0, Math.floor(seconds / 60))} min${cold ? ', not settled yet' : ''}`,
    warn: cold,
  }
}
