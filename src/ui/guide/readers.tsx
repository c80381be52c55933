import { type GuideDocument, type ReportCount, sayReports } from '#core/guide/document'

const ANSWER: ReadonlyMap<string, string> = new Map(
  Object.entries({
    taken: 'Thank you. Your report is counted once an editor has reviewed it.',
    'not-taken':
      'Your report was not kept. Say whether the picture is better, the same or worse and how far you went, or try again in an hour.',
  }),
)

/** A reader says how it went: no account, no address. */
const ReportForm = ({ document, slug }: { document: GuideDocument; slug: string }) => (
  <details className="mt-3">
    <summary className="text-soft">Tell us how it went</summary>
    <form action={`/guides/${slug}/reports`} method="post" className="mt-3 grid gap-3">
      <label className="grid gap-1 text-sm text-soft">
        Viewing case
        <select name="viewingCase" className="field">
          {document.cases.map((c) => (
            <option key={c.viewingCase.key} value={c.viewingCase.key}>
              {c.viewingCase.label}
            </option>
          ))}
        </select>
      </label>
      <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
        <legend className="mb-1 text-sm text-soft">The picture is now</legend>
        {(
          [
            ['better', 'better'],
            ['same', 'the same'],
            ['worse', 'worse'],
          ] as const
        ).map(([value, label]) => (
          <label key={value} className="flex items-center gap-1.5">
            <input type="radio" name="verdict" value={value} required /> {label}
          </label>
        ))}
      </fieldset>
      <label className="grid gap-1 text-sm text-soft">
        How far you went
        <select name="went" className="field">
          <option value="all">all of it</option>
          <option value="most">most of it</option>
          <option value="few">a few values</option>
        </select>
      </label>
      <div className="grid grid-cols-3 gap-3">
        <label className="grid gap-1 text-sm text-soft">
          Size, inch
          <input name="sizeInch" inputMode="decimal" maxLength={6} className="field" />
        </label>
        <label className="grid gap-1 text-sm text-soft">
          Region
          <input name="region" maxLength={40} className="field" />
        </label>
        <label className="grid gap-1 text-sm text-soft">
          Firmware
          <input name="firmware" maxLength={60} className="field" />
        </label>
      </div>
      <button type="submit" className="button button-quiet justify-self-start">
        Send
      </button>
      <p className="text-sm text-faint">Nothing is kept but what you enter here.</p>
    </form>
  </details>
)

/** What readers of a guide say of it, and the form to say so. Works without scripts; no account, no address. */
export const Readers = ({
  document,
  reports,
  slug,
  answer,
  alone,
}: {
  document: GuideDocument
  reports: readonly ReportCount[]
  slug: string
  /** What became of a report that was just sent; empty where none was. */
  answer: string
  alone: boolean
}) => (
  <section id="readers" aria-labelledby="readers-title" className="rule-t print:hidden scroll-mt-6 pt-5 pb-6">
    <h2 id="readers-title" className="mb-2 font-semibold">
      What readers say
    </h2>
    {reports.length === 0 ? (
      <p className="text-[0.95rem] text-soft">No reader has reported yet.</p>
    ) : (
      reports.map((r) => (
        <p key={String(r.sizeInch)} className="text-[0.95rem] text-soft">
          {sayReports(r)}
        </p>
      ))
    )}
    {ANSWER.has(answer) && (
      <p role="status" className="mt-2 text-lamp">
        {ANSWER.get(answer)}
      </p>
    )}
    {!alone && <ReportForm document={document} slug={slug} />}
  </section>
)
