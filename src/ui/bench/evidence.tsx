'use client'

import type { GreyVerdict } from '#core/judge'
import type { SessionView } from '#server/views'
import { ClicksAwayBars, GammaChart, type GreyScales, Mark, WhiteErrorChart, WhitePath } from '#ui/charts'

/** Nothing was moved since the factory sweep: now is as it came. */
const untouched = ({ factory, current }: SessionView): boolean => {
  const known = new Set(factory?.verdict.levels.map((l) => l.readingId))
  return current?.verdict.levels.every((l) => known.has(l.readingId)) ?? true
}

/** Evidence for what the page says: charts that fit the station at hand. */
export const Evidence = ({ view }: { view: SessionView }) => {
  const at = view.stations.find((s) => s.status === 'now' || s.status === 'stale')?.key ?? 'guide'
  const factory = view.factory?.verdict
  if (!factory && !view.current)
    return (
      <p className="max-w-xl text-faint">
        Charts of tone, white error and the path of white appear here with the first readings.
      </p>
    )
  if ((view.next.kind === 'compose' || view.run?.purpose === 'verify' || at === 'verify') && factory) {
    const after = view.after && !view.after.stale ? view.after.verdict : undefined
    const scales: GreyScales = {
      factory,
      now: after ?? view.current?.verdict,
      nowLabel: after ? 'final' : 'now',
    }
    return (
      <div className="grid grid-cols-[minmax(0,1fr)] gap-6">
        {after && <BeforeAfter before={factory} after={after} />}
        <div className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-3">
          <WhiteErrorChart scales={scales} height={180} />
          <GammaChart scales={scales} height={180} />
          <WhitePath scales={scales} height={180} />
        </div>
      </div>
    )
  }
  const scales: GreyScales = {
    factory,
    now: at === 'factory' || at === 'prepare' || untouched(view) ? undefined : view.current?.verdict,
    nowLabel: 'now',
  }
  if (at === 'white' && view.away.length > 0)
    return (
      <div className="grid grid-cols-[minmax(0,1fr)] gap-8 md:grid-cols-[minmax(0,1fr)_17rem]">
        <ClicksAwayBars away={view.away} />
        <WhitePath scales={scales} height={270} />
      </div>
    )
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      {view.factory && at !== 'factory' && (
        <p className="max-w-3xl">
          <strong className="font-semibold">Factory verdict. </strong>
          <span className="text-soft">{view.factory.sentences.join(' ')}</span>
        </p>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-3">
        <WhiteErrorChart scales={scales} height={185} />
        <GammaChart scales={scales} height={185} />
        <WhitePath scales={scales} height={185} />
      </div>
    </div>
  )
}

const number = (value: number | undefined, digits: number) =>
  value === undefined
    ? '–'
    : value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits })

/** Before and after, figure by figure. */
export const BeforeAfter = ({ before, after }: { before: GreyVerdict; after: GreyVerdict }) => {
  const wanted = after.wantedGamma
  const rows: Array<[string, string, string, string]> = [
    ['White, cd/m²', number(before.white.luminance, 1), number(after.white.luminance, 1), ''],
    [
      'White error, average / worst ΔE00',
      `${number(before.whiteError.average, 1)} / ${number(before.whiteError.worst, 1)}`,
      `${number(after.whiteError.average, 1)} / ${number(after.whiteError.worst, 1)}`,
      '0',
    ],
    [
      'with luminance, average / worst ΔE00',
      `${number(before.fullError.average, 1)} / ${number(before.fullError.worst, 1)}`,
      `${number(after.fullError.average, 1)} / ${number(after.fullError.worst, 1)}`,
      '0',
    ],
    [
      'Colour of white, K / Duv',
      `${number(before.white.cct, 0)} / ${before.white.duv.toFixed(4)}`,
      `${number(after.white.cct, 0)} / ${after.white.duv.toFixed(4)}`,
      '6,504 / 0.0032',
    ],
    ['Tone exponent', number(before.gamma, 2), number(after.gamma, 2), number(wanted, 2)],
    ['Black, cd/m²', number(before.black, 3), number(after.black, 3), ''],
    ['Contrast', number(before.contrast, 0), number(after.contrast, 0), ''],
  ]
  return (
    <table className="quiet-table tight">
      <caption className="sr-only">Before and after</caption>
      <thead>
        <tr>
          <td />
          <th scope="col" className="n">
            <Mark kind="factory" /> before
          </th>
          <th scope="col" className="n">
            <Mark kind="now" /> after
          </th>
          <th scope="col" className="n max-sm:hidden">
            <Mark kind="target" /> target
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, a, b, target]) => (
          <tr key={name}>
            <th scope="row">{name}</th>
            <td className="n text-soft">{a}</td>
            <td className="n font-semibold">{b}</td>
            <td className="n text-faint max-sm:hidden">{target}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
