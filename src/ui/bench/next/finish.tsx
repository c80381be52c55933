import { sayWhole } from '#core/measure'
import type { SessionView } from '#server/view'
import { LocalTime } from '#ui/desk'
import { Above } from './next-parts'

/** Changed settings of a case that are named. */
const MOST_STRAYED = 4

/** What the display holds for each case that is in its guide, once this one is done. */
const CasesOfDisplay = ({ view }: { view: SessionView }) => (
  <section className="grid gap-1.5" aria-label="Cases of this display in the guide">
    <h2 className="font-semibold">What this display holds for its guide</h2>
    <ul className="grid gap-1">
      {view.cases.map((c) => (
        <li key={c.session} className={c.changes.length ? 'text-lamp' : 'text-soft'}>
          {c.session === view.id ? (
            c.label
          ) : (
            <a className="link" href={`/sessions/${c.session}`}>
              {c.label}
            </a>
          )}
          {': '}
          {c.changes.length > 0
            ? `changed since: ${c.changes
                .slice(0, MOST_STRAYED)
                .map((change) => `${change.name} is ${change.from}, was ${change.to}`)
                .join(
                  '; ',
                )}${c.changes.length > MOST_STRAYED ? `; and ${c.changes.length - MOST_STRAYED} more` : ''}. Its page sets ${c.changes.length === 1 ? 'it' : 'them'} back.`
            : c.reading
              ? 'being read back.'
              : c.unseen > 0
                ? `${c.unseen} ${c.unseen === 1 ? 'value' : 'values'} to check against the menu, on its page.`
                : c.readBackAt
                  ? 'as it was left, read back '
                  : 'as it was left, as far as Wexmar has seen.'}
          {c.changes.length === 0 && !c.reading && c.unseen === 0 && c.readBackAt && (
            <>
              <LocalTime at={c.readBackAt} />.
            </>
          )}
        </li>
      ))}
    </ul>
  </section>
)

export const Finish = ({ view }: { view: SessionView }) => {
  const before = view.factory?.verdict
  const after = view.after?.verdict
  const improved = before && after && after.whiteError.average < before.whiteError.average
  return (
    <>
      <Above>{view.guide?.published ? 'The guide is published.' : 'All steps are done.'}</Above>
      <h1 className="figure text-5xl">
        {!before || !after ? (
          'Before and after'
        ) : (
          <>
            Greyscale ΔE{' '}
            <span className="font-normal text-faint">{before.whiteError.average.toFixed(1)}</span>{' '}
            <span className="sr-only">to</span>
            <span className="text-lamp">{after.whiteError.average.toFixed(1)}</span>
            <span className="text-3xl font-normal text-soft">
              {view.findings.hdr?.knee ? (
                `, follows PQ up to ${Math.round(view.findings.hdr.knee).toLocaleString('en-GB')} cd/m²`
              ) : (
                <>
                  , white {sayWhole(before.white.luminance)} → {sayWhole(after.white.luminance)} cd/m²
                </>
              )}
            </span>
          </>
        )}
      </h1>
      {view.after?.worse.map((w) => (
        <p key={w} className="text-lamp">
          Worse than before: {w}
        </p>
      ))}
      <p className="text-soft">
        {improved
          ? view.ending?.sentences.join(' ')
          : 'The factory state was as good as it gets here; the guide may say so.'}
        {view.copy && ` ${view.copy}`}
        {view.unattended ? ' No one has looked at it yet: take over with U and judge the patterns.' : ''}
      </p>
      {view.cases.length > 0 && <CasesOfDisplay view={view} />}
    </>
  )
}
