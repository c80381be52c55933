import Link from 'next/link'
import type { settingRows } from '#core/guide/formats'
import type { GuideFinding } from '#core/guide/rules'
import { isReachable, publicOrigin } from '#server/base'
import type { GuideDraft } from '#server/guide'
import { LineButton, LocalTime, QrCode } from '#ui/desk'
import { ValueTable } from '#ui/guide'
import { PublishForm, ReviewForm, ValueWords, WithdrawForm, WordsField } from '#ui/guide-desk'
import { day } from '#ui/static'
import {
  cancelScheduleAction,
  chooseBaseAction,
  composeAgainAction,
  moderateAction,
  publishAction,
  reviewAction,
  withdrawAction,
} from '../../../guide-actions'

const LEVEL_CLASS = { error: 'font-bold text-lamp', warning: 'text-lamp', note: 'text-faint' } as const

/** What mends a finding, in one action. */
const Mend = ({ finding, draft }: { finding: GuideFinding; draft: GuideDraft }) => {
  const { mend } = finding
  if (mend.kind === 'write')
    return (
      <a className="link" href={`#words-${mend.place.replaceAll(':', '-')}`}>
        {mend.label}
      </a>
    )
  if (mend.kind === 'review')
    return (
      <a className="link" href="#review">
        {mend.label}
      </a>
    )
  if (mend.kind === 'recheck')
    return (
      <Link className="link" href="/desk/rechecks">
        {mend.label}
      </Link>
    )
  const section = draft.sections.find((s) => s.case === mend.case && s.base)
  if (!section || section.sessionId === null) return null
  return mend.kind === 'compose' ? (
    <LineButton
      action={composeAgainAction.bind(null, section.sessionId)}
      label={mend.label}
      of={section.label}
    />
  ) : (
    <Link className="link" href={`/sessions/${section.sessionId}`}>
      {mend.label}
    </Link>
  )
}

/** "no error", "one error", "3 errors". */
const counted = (n: number, what: string): string =>
  n === 0 ? `no ${what}` : n === 1 ? `one ${what}` : `${n} ${what}s`

export const Findings = ({ draft }: { draft: GuideDraft }) => {
  const label = (key: string) =>
    draft.document.cases.find((c) => c.viewingCase.key === key)?.viewingCase.label
  return (
    <section id="checks" className="mt-10 scroll-mt-6">
      <h2 className="figure border-ink border-b pb-2 text-2xl">Checks</h2>
      {draft.findings.length === 0 && <p className="py-3">Nothing found.</p>}
      <ul>
        {draft.findings.map((f) => (
          <li
            key={`${f.rule} ${f.case} ${f.control} ${f.text}`}
            className="rule-b grid grid-cols-[4.5rem_1fr] gap-2 py-2.5"
          >
            <span className={LEVEL_CLASS[f.level]}>{f.level}</span>
            <span>
              {f.text} {f.case && <span className="text-faint">{label(f.case)}.</span>}
              <span className="block text-sm">
                <Mend finding={f} draft={draft} />
              </span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** The cases of a guide, of which unit each is, and how a session's newest values come in. */
export const Sections = ({ draft }: { draft: GuideDraft }) => (
  <section>
    <h2 className="figure border-ink border-b pb-2 text-2xl">Viewing cases</h2>
    <ul>
      {draft.sections.map((s) => (
        <li
          key={`${s.case} ${s.serial}`}
          className="rule-b flex flex-wrap items-baseline gap-x-5 gap-y-1 py-2.5"
        >
          <span className={s.base ? 'flex-1' : 'flex-1 text-faint'}>
            {s.label} <span className="text-faint text-sm">{s.unit}</span>
          </span>
          <span className="text-faint text-sm">
            {s.base ? (s.status === 'draft' ? 'not public yet' : 'public') : 'shows how units differ'}
          </span>
          {!s.base && (
            <LineButton
              action={chooseBaseAction.bind(
                null,
                draft.id,
                s.case,
                s.serial,
                draft.words[`base:${s.case}`]?.version ?? 0,
              )}
              label="Publish this unit’s"
              of={`${s.label}, ${s.unit}`}
            />
          )}
          {s.sessionId === null ? (
            <span className="text-faint text-sm">from a file</span>
          ) : (
            <>
              <LineButton
                action={composeAgainAction.bind(null, s.sessionId)}
                label="Compose again"
                of={`${s.label}, ${s.unit}`}
              />
              <Link className="link text-sm" href={`/sessions/${s.sessionId}`}>
                Bench
              </Link>
            </>
          )}
        </li>
      ))}
    </ul>
  </section>
)

/** When the draft becomes public by itself. */
const Scheduled = ({ draft }: { draft: GuideDraft }) => {
  const { at, author, current, trouble } = draft.scheduled!
  return (
    <p className="mt-4 text-soft">
      Becomes public on <LocalTime at={at} />
      {author && `, ${author} answers for it`}.
      {!current && (
        <span className="text-lamp"> It is an earlier draft: changes made since are not in it.</span>
      )}{' '}
      <LineButton action={cancelScheduleAction.bind(null, draft.id)} label="Cancel" of="the schedule" />
      {trouble && (
        <span role="alert" className="block text-lamp">
          It could not be published when its time came: {trouble.message} It was tried{' '}
          {trouble.times === 1 ? 'once' : `${trouble.times} times`} and is tried again automatically. Publish
          it now, or cancel the schedule.
        </span>
      )}
    </p>
  )
}

const SAID = { asked: 'asks for a review', approved: 'approves it', changes: 'wants changes' } as const

/** What was said of the draft by a second name. */
export const Reviews = ({ draft }: { draft: GuideDraft }) => (
  <section id="review" className="mt-10 scroll-mt-6">
    <h2 className="figure border-ink border-b pb-2 text-2xl">Review</h2>
    <ul>
      {draft.reviews.map((r) => (
        <li key={`${r.at} ${r.author}`} className="rule-b py-2">
          <strong className="font-semibold">{r.author}</strong> {SAID[r.kind]}
          <span className="text-faint text-sm">
            , {day(r.at)}
            {!r.current && ', of an earlier draft'}
          </span>
          {r.note && <span className="block text-soft">{r.note}</span>}
        </li>
      ))}
    </ul>
    <ReviewForm
      action={reviewAction.bind(null, draft.id)}
      asked={draft.reviews.some((r) => r.kind === 'asked' && r.current)}
    />
  </section>
)

/** The way from the desk to a phone in front of the display. */
export const OnPhone = ({ slug }: { slug: string }) => {
  const address = `${publicOrigin()}/guides/${slug}/follow`
  const reachable = isReachable(publicOrigin())
  return (
    <section className="mt-10 flex flex-wrap items-center gap-5">
      {reachable && <QrCode text={address} />}
      <p className="min-w-0 text-soft">
        One setting at a time on a phone:{' '}
        <a className="link break-all" href={address}>
          {address}
        </a>
        {!reachable && (
          <span className="block text-faint text-sm">
            This address works on this computer only: set WEXMAR_ORIGIN so that phones reach it.
          </span>
        )}
      </p>
    </section>
  )
}

/** How many findings of a draft are of a level. */
const countOf = ({ findings }: GuideDraft, level: GuideFinding['level']): number =>
  findings.filter((f) => f.level === level).length

/** What is public of the guide, and what stands in the way of the draft. */
export const DraftStatus = ({ draft }: { draft: GuideDraft }) => {
  const [newest] = draft.revisions
  const [errors, warnings] = [countOf(draft, 'error'), countOf(draft, 'warning')]
  return (
    <>
      <p className="mt-2 text-soft">
        {draft.withdrawn ? (
          <span className="text-lamp">Withdrawn: {draft.withdrawn}</span>
        ) : newest ? (
          <>
            Revision {newest.number} is public since {day(newest.publishedAt)}.{' '}
            <a className="link" href={`/guides/${draft.slug}`}>
              Read the public page
            </a>
          </>
        ) : (
          'Not published yet.'
        )}
      </p>
      <p className="mt-1 text-soft">
        <a className="link" href="#checks">
          Checks
        </a>
        : {counted(errors, 'error')}, {counted(warnings, 'warning')}.{' '}
        {!draft.published && (
          <a className="link" href="#publish">
            {errors > 0 ? 'What prevents publishing' : `Publish revision ${draft.number}`}
          </a>
        )}
      </p>
    </>
  )
}

/** The words of a guide as a whole. */
export const DraftWords = ({ plain }: Pick<GuideDraft, 'plain'>) => (
  <section>
    <h2 className="figure border-ink border-b pb-2 text-2xl">Words</h2>
    <div className="mt-4 grid gap-5">
      <div id="words-title">
        <WordsField place="title" label="Title" proposal={plain.title} rows={1} />
      </div>
      <div id="words-summary">
        <WordsField
          place="summary"
          label="Summary"
          hint="A sentence or two: what to do, and whether it was worth it."
          proposal={plain.summary}
          rows={5}
          kind="line"
        />
      </div>
      <div id="words-guide">
        <WordsField
          place="guide"
          label="Text of the guide, below the summary"
          proposal=""
          rows={4}
          kind="rich"
        />
      </div>
      <WordsField place="desk" label="Notes for the desk, never published" proposal="" rows={3} />
    </div>
  </section>
)

export const Publishing = ({ draft }: { draft: GuideDraft }) => (
  <section id="publish" className="mt-10 scroll-mt-6">
    <h2 className="figure border-ink border-b pb-2 text-2xl">
      Publish <span className="font-light text-faint">revision {draft.number}</span>
    </h2>
    <div className="mt-4">
      <PublishForm
        action={publishAction.bind(null, draft.id, draft.standing)}
        number={draft.number}
        errors={countOf(draft, 'error')}
        warnings={countOf(draft, 'warning')}
        published={draft.published}
      />
    </div>
    {draft.scheduled && <Scheduled draft={draft} />}
  </section>
)

export const ReaderReports = ({ reports }: Pick<GuideDraft, 'reports'>) => (
  <section className="mt-10">
    <h2 className="figure border-ink border-b pb-2 text-2xl">What readers say</h2>
    <ul>
      {reports.map((r) => (
        <li key={r.id} className="rule-b py-2">
          <span className={r.status === 'new' ? '' : 'text-soft'}>{r.said}</span>{' '}
          <span className="text-faint text-sm">
            {day(r.at)}
            {r.status === 'new' ? '' : r.status === 'shown' ? ', counted' : ', not counted'}
          </span>
          <span className="flex gap-4 text-sm">
            {r.status !== 'shown' && (
              <LineButton action={moderateAction.bind(null, r.id, true)} label="Count it" of={r.said} />
            )}
            {r.status !== 'hidden' && (
              <LineButton action={moderateAction.bind(null, r.id, false)} label="Leave it out" of={r.said} />
            )}
          </span>
        </li>
      ))}
    </ul>
  </section>
)

export const Revisions = ({ draft }: { draft: GuideDraft }) => (
  <section className="mt-10">
    <h2 className="figure border-ink border-b pb-2 text-2xl">Revisions</h2>
    <ul>
      {draft.revisions.map((r) => (
        <li key={r.number} className="rule-b py-2">
          <a className="link" href={`/guides/${draft.slug}/revisions/${r.number}`}>
            {r.kind === 'correction' ? 'Correction' : 'Revision'} {r.number}
          </a>
          , {day(r.publishedAt)}
          {r.author && `, ${r.author}`}
          {r.reviewer && `, reviewed by ${r.reviewer}`}
          {r.note && <span className="block text-faint text-sm">{r.note}</span>}
        </li>
      ))}
    </ul>
    {!draft.withdrawn && (
      <details className="mt-3">
        <summary className="text-soft">Withdraw the guide</summary>
        <WithdrawForm action={withdrawAction.bind(null, draft.id)} />
      </details>
    )}
  </section>
)

/** The words of one case, and its table as readers see it. */
export const CaseWords = ({
  document: c,
  rows,
}: {
  document: GuideDraft['plain']['cases'][number]
  rows: ReturnType<typeof settingRows>
}) => (
  <section
    id={`words-case-${c.viewingCase.key}`}
    aria-labelledby={`case-${c.viewingCase.key}`}
    className="mt-10"
  >
    <h2 id={`case-${c.viewingCase.key}`} className="figure border-ink border-b pb-2 text-2xl">
      {c.viewingCase.label}
    </h2>
    <p className="mt-3 text-soft">{c.summary}</p>
    <div className="my-4">
      <WordsField
        place={`case:${c.viewingCase.key}`}
        label="Text of this case, above its table"
        proposal=""
        rows={4}
        kind="rich"
      />
    </div>
    <h3 className="mb-1 font-semibold">Values that were changed</h3>
    <ValueWords document={c} />
    <details className="mt-4">
      <summary className="text-soft">The whole table as readers see it</summary>
      <ValueTable rows={rows} caseKey={c.viewingCase.key} />
    </details>
  </section>
)
