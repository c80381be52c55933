import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { context, publicOrigin } from '#server/base'
import { guideAt, revisionDifferences } from '#server/guide'
import { DifferencesTable, PublicGuide } from '#ui/guide'
import { Withdrawn } from '../../withdrawn'

export const dynamic = 'force-dynamic'
type Props = { params: Promise<{ slug: string; number: string }> }

const asked = async ({ params }: Props) => {
  const { slug, number } = await params
  const wanted = idOf(number)
  const at = wanted ? await guideAt(context(), slug, wanted) : undefined
  return at?.kind === 'guide' ? at.guide : undefined
}

export const generateMetadata = async (props: Props) => {
  const guide = await asked(props)
  return guide
    ? {
        title: { absolute: `${guide.document.title}, revision ${guide.revision}` },
        alternates: { canonical: `${publicOrigin()}/guides/${guide.slug}` },
      }
    : { title: 'No such revision' }
}

export default async function RevisionPage(props: Props) {
  const guide = await asked(props)
  if (!guide) notFound()
  if (guide.withdrawn) return <Withdrawn title={guide.document.title} why={guide.withdrawn} />
  const newest = guide.revisions[0]!.number
  const since =
    guide.revision > 1
      ? await revisionDifferences(context(), guide.slug, guide.revision - 1, guide.revision)
      : undefined
  return (
    <>
      <div className="mb-8 border border-lamp p-4 text-soft">
        <p>
          This is revision {guide.revision}
          {guide.revision === newest ? ', the newest.' : `; revision ${newest} is the newest.`}{' '}
          <a className="link" href={`/guides/${guide.slug}`}>
            Read the guide as it is now
          </a>
        </p>
        {since && (
          <details className="mt-3" open>
            <summary>What changed since revision {guide.revision - 1}</summary>
            <DifferencesTable differences={since} />
            <p className="mt-3">
              <a
                className="link"
                href={`/guides/compare?a=${guide.slug}@${guide.revision - 1}&b=${guide.slug}@${guide.revision}`}
              >
                Both side by side
              </a>
            </p>
          </details>
        )}
      </div>
      <PublicGuide guide={guide} />
    </>
  )
}
