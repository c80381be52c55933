import Link from 'next/link'
import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { composeGuide, context, draftView, sessionHead } from '#server'
import { ActionButton, GuideEditor, Trail } from '#ui/desk'
import { ValueTable } from '#ui/guide'
import { composeAgainAction, guideAction } from '../../../actions'

export const dynamic = 'force-dynamic'

const Where = ({ id, name }: { id: number; name: string }) => (
  <Trail
    links={[
      { href: '/', text: 'Bench' },
      { href: `/sessions/${id}`, text: name },
    ]}
  />
)

export default async function GuideDeskPage({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  if (!id) notFound()
  const composed = await composeGuide(context(), id)
  if (!composed.ok) {
    const session = await sessionHead(context(), id)
    if (!session) notFound()
    return (
      <>
        <title>Guide · Wexmar</title>
        <Where id={id} name={`${session.display}, ${session.caseLabel}`} />
        <h1 className="figure text-5xl">No guide yet</h1>
        <p className="mt-4 max-w-xl text-lg text-lamp">{composed.error}</p>
        <p className="mt-6">
          <Link className="button" href={`/sessions/${id}`}>
            Back to the bench
          </Link>
        </p>
      </>
    )
  }
  const draft = (await draftView(context(), id))!
  const stops = draft.findings.filter((f) => f.weight === 'stop').length
  return (
    <>
      <title>{`${draft.document.title}, draft · Wexmar`}</title>
      <Where
        id={id}
        name={`${draft.document.display.maker} ${draft.document.display.model} ${draft.document.display.sizeInch}, ${draft.document.viewingCase.label}`}
      />
      <h1 className="figure text-5xl">
        Guide <span className="font-light text-faint">revision {draft.number}</span>
      </h1>
      {draft.outdated && (
        <div className="mt-4 flex flex-wrap items-center gap-4 border border-lamp p-4">
          <p className="text-lamp">
            The session has gone on since this was composed: its settings are other ones now.
          </p>
          <ActionButton action={composeAgainAction.bind(null, id)} label="Compose it anew" />
        </div>
      )}
      <div className="mt-8 grid gap-x-14 gap-y-10 lg:grid-cols-[24rem_minmax(0,1fr)]">
        <div>
          {draft.status === 'published' ? (
            <div className="grid gap-4">
              <p className="text-lg">This revision is published and stays as it is.</p>
              <a className="button" href={`/guides/${draft.slug}`}>
                Read the public page
              </a>
            </div>
          ) : (
            <GuideEditor
              action={guideAction.bind(null, id)}
              title={draft.document.title}
              summary={draft.document.summary}
              stops={stops}
              revision={draft.number}
            />
          )}
          <section className="mt-8">
            <h2 className="figure border-ink border-b pb-2 text-2xl">Checks</h2>
            {draft.findings.length === 0 && <p className="py-3">Nothing found.</p>}
            <ul>
              {draft.findings.map((f) => (
                <li key={f.text} className="rule-b grid grid-cols-[4rem_1fr] gap-2 py-2.5">
                  <span className={f.weight === 'stop' ? 'font-bold text-lamp' : 'text-faint'}>
                    {f.weight === 'stop' ? 'must' : 'visual-check'}
                  </span>
                  <span>{f.text}</span>
                </li>
              ))}
            </ul>
          </section>
        </div>
        <section aria-labelledby="values">
          <h2 id="values" className="figure text-2xl">
            {draft.document.viewingCase.label}
          </h2>
          <ValueTable values={draft.document.values} />
        </section>
      </div>
    </>
  )
}
