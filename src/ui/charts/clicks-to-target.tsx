import type { ClicksToTarget } from '#core/solve'
import { styled } from './swatch'

const CHANNELS = [
  ['red', 'bg-red'],
  ['green', 'bg-green'],
  ['blue', 'bg-blue'],
] as const
/** Most bars that are drawn one by one; beyond them a bar stands for several clicks. */
const MOST_BARS = 12

/** Which control the clicks are counted in, in words. */
const kinds = (away: readonly ClicksToTarget[]): string => {
  const cuts = away.filter((a) => a.by === 'cut').map((a) => Math.round(a.level * 100))
  if (cuts.length === 0) return 'of gain, at each grey level'
  return cuts.length === away.length
    ? 'of cut, at each grey level'
    : `of cut up to ${Math.max(...cuts)} %, of gain above`
}
const bars = (n: number) => Array.from({ length: n }, (_, i) => i + 1)
const signed = (n: number) => (n > 0 ? `+${n}` : n < 0 ? `−${-n}` : '0')

/** Clicks that each grey level still is from the target, for each channel, as bars that can be counted. */
export const ClicksAwayBars = ({ away }: { away: readonly ClicksToTarget[] }) => {
  const most = Math.max(1, ...away.flatMap((a) => [Math.abs(a.red), Math.abs(a.blue)]))
  const worth = Math.ceil(most / MOST_BARS)
  return (
    <figure className="min-w-0">
      <figcaption className="mb-2 flex flex-wrap items-baseline gap-x-3">
        <strong className="font-semibold">Clicks to target</strong>
        <span className="text-sm text-faint">
          {kinds(away)}
          {worth > 1 ? `; one bar is ${worth} clicks` : ''}
        </span>
      </figcaption>
      <div className="grid gap-y-1">
        {CHANNELS.map(([channel, colour]) => (
          <Channel key={channel} channel={channel} colour={colour} away={away} worth={worth} />
        ))}
        <div className="grid grid-cols-[3.5rem_1fr] text-xs text-soft" aria-hidden="true">
          <span />
          <div className="flex">
            {away.map((a) => (
              <span key={a.level} className="flex-1 text-center">
                {Math.round(a.level * 100)} %
              </span>
            ))}
          </div>
        </div>
      </div>
      <table className="sr-only">
        <caption>Clicks to go at each grey level, {kinds(away)}</caption>
        <thead>
          <tr>
            <th scope="col">grey</th>
            {CHANNELS.map(([c]) => (
              <th scope="col" key={c}>
                {c}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {away.map((a) => (
            <tr key={a.level}>
              <th scope="row">{Math.round(a.level * 100)} %</th>
              {CHANNELS.map(([c]) => (
                <td key={c}>{signed(Math.round(a[c]))}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  )
}

const Channel = ({
  channel,
  colour,
  away,
  worth,
}: {
  channel: 'red' | 'green' | 'blue'
  colour: string
  away: readonly ClicksToTarget[]
  worth: number
}) => {
  const clicks = away.map((a) => Math.round(a[channel]))
  const up = Math.max(0, ...clicks)
  const down = Math.max(0, ...clicks.map((c) => -c))
  const rows = (n: number) => Math.min(MOST_BARS, Math.ceil(n / worth))
  const cell = (n: number, toward: 'up' | 'down') => (
    <div
      className={`flex flex-1 items-center gap-[2px] ${toward === 'up' ? 'flex-col-reverse' : 'flex-col'}`}
      ref={styled({ height: `${rows(toward === 'up' ? up : down) * 6 + 15}px` })}
    >
      {bars(rows(n)).map((bar) => (
        <span key={bar} className={`h-1 w-3/5 shrink-0 ${colour}`} />
      ))}
      <span className="text-[0.68rem] leading-none text-soft">{signed(toward === 'up' ? n : -n)}</span>
    </div>
  )
  return (
    <div className="grid grid-cols-[3.5rem_1fr] items-stretch" aria-hidden="true">
      <span className="self-center text-sm capitalize">{channel}</span>
      <div>
        <div className="flex items-end">
          {clicks.map((n, i) =>
            n >= 0 ? (
              <div key={away[i]!.level} className="flex flex-1">
                {cell(n, 'up')}
              </div>
            ) : (
              <div key={away[i]!.level} className="flex-1" />
            ),
          )}
        </div>
        <div className="h-px bg-faint" />
        {down > 0 && (
          <div className="flex items-start pt-[2px]">
            {clicks.map((n, i) =>
              n < 0 ? (
                <div key={away[i]!.level} className="flex flex-1">
                  {cell(-n, 'down')}
                </div>
              ) : (
                <div key={away[i]!.level} className="flex-1" />
              ),
            )}
          </div>
        )}
      </div>
    </div>
  )
}
