import Link from 'next/link'
import { notFound, redirect } from 'next/navigation'
import { idOf } from '#app/params'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { byEyeRows, sessionHead } from '#server/session'
import { Trail } from '#ui/desk'
import { ByEyeForm } from '#ui/guide-desk'
import { composeByEyeAction } from '../../../guide-actions'

export const dynamic = 'force-dynamic'

/** Composes what a session measured as a section of its guide, and leads to the guide. */
export default async function ComposePage({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  if (!id) notFound()
  const composed = await heavy.composeGuide(context(), id)
  if (composed.ok) redirect(`/desk/guides/${composed.value}`)
  const session = await sessionHead(context(), id)
  if (!session) notFound()
  const rows = await byEyeRows(context(), id)
  return (
    <>
      <title>Guide · Wexmar</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/sessions/${id}`, text: `${session.display}, ${session.caseLabel}` },
        ]}
      />
      <h1 className="figure text-5xl">No guide yet</h1>
      <p className="mt-4 max-w-xl text-lamp text-lg">{composed.error}</p>
      <p className="mt-6">
        <Link className="button" href={`/sessions/${id}`}>
          Back to the bench
        </Link>
      </p>
      {rows && (
        <section className="mt-10">
          <h2 className="mb-2 font-semibold text-xl">Without a meter</h2>
          <p className="mb-4 max-w-xl text-soft">
            A guide of the settings as they stand on the display, by eye: it says at its head that nothing was
            measured, and gives no figure. Write down what the display shows; Wexmar’s patterns show black,
            white and sharpness.
          </p>
          <ByEyeForm rows={rows} action={composeByEyeAction.bind(null, id)} />
        </section>
      )}
    </>
  )
}
