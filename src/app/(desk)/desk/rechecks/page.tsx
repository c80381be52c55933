import Link from 'next/link'
import { heavy } from '#server/background'
import { context } from '#server/base'
import type { RecheckLine } from '#server/guide'
import { LineButton, Trail } from '#ui/desk'
import { composeAgainAction, recheckAction } from '../../guide-actions'

export const dynamic = 'force-dynamic'

/** How far a re-check has come, and what is done about it. */
const Progress = ({ line }: { line: RecheckLine }) => {
  const { begun } = line
  const of = `${line.display}, ${line.case}, ${line.unit}`
  if (!begun)
    return <LineButton action={recheckAction.bind(null, line.revisionId)} label="Read it again" of={of} />
  const bench = (label: string) => (
    <Link className="link" href={`/sessions/${begun.sessionId}`}>
      {label}
      <span className="sr-only"> {of}</span>
    </Link>
  )
  if (!begun.verdict) return bench(begun.running ? 'Being read' : 'Go on at the bench')
  const { was, is, changed } = begun.verdict
  return changed.length === 0 ? (
    <span>
      Still right: ΔE00 {was.toFixed(1)} → {is.toFixed(1)}.{' '}
      <LineButton
        action={composeAgainAction.bind(null, begun.sessionId)}
        label="Put it into the next revision"
        of={of}
      />
    </span>
  ) : (
    <span>
      <span className="text-lamp">{changed.join(' ')}</span> {bench('Calibrate it anew')}
    </span>
  )
}

/** Cases that a newer firmware makes worth reading again, the shortest first. */
export default async function RechecksPage() {
  const lines = await heavy.recheckPlan(context())
  const minutes = lines.filter((l) => !l.begun?.verdict).reduce((sum, l) => sum + l.minutes, 0)
  return (
    <>
      <title>Re-checks · Wexmar</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: '/desk/guides', text: 'Guides' },
          { href: '/desk/rechecks', text: 'Re-checks' },
        ]}
      />
      <h1 className="figure text-5xl">Re-checks</h1>
      <p className="mt-3 max-w-2xl text-lg text-soft">
        Published cases that were read with an older firmware than the newest that is known of their model.
        Wexmar sets what the guide says and reads the final sweep; where it still holds, it becomes part of
        the next revision.
      </p>
      {lines.length === 0 ? (
        <p className="mt-8 text-faint text-lg">
          Nothing to read again. A newer firmware is entered on the page of a model, or seen when a unit
          stands on the bench.
        </p>
      ) : (
        <>
          <p className="mt-6 text-soft">
            {lines.length === 1 ? 'One case' : `${lines.length} cases`}, about {minutes} min at the bench with
            warm displays. The shortest first.
          </p>
          <ul className="mt-3 border-ink border-t">
            {lines.map((l) => (
              <li
                key={l.revisionId}
                className="rule-b grid items-baseline gap-x-6 gap-y-1 py-3 sm:grid-cols-[4rem_minmax(0,1fr)_11rem_15rem]"
              >
                <span className="figure text-2xl">
                  {l.minutes}
                  <span className="text-base text-faint"> min</span>
                </span>
                <span>
                  <Link className="link" href={`/desk/guides/${l.guideId}`}>
                    {l.display}
                  </Link>
                  , {l.case}
                  <span className="block text-faint text-sm">
                    {l.unit}, {l.serial}, {l.readings} readings
                  </span>
                </span>
                <span className="text-sm">
                  <span className="text-faint">firmware</span> {l.firmware} → {l.newest}
                </span>
                <span className="text-sm">
                  <Progress line={l} />
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  )
}
