import { notFound, permanentRedirect, redirect } from 'next/navigation'
import { followSteps } from '#core/guide/formats'
import { context } from '#server/base'
import { guideAt } from '#server/guide'
import { FollowAlong } from '#ui/follow'
import { day } from '#ui/static'

export const dynamic = 'force-dynamic'
type Props = {
  params: Promise<{ slug: string }>
  searchParams: Promise<Record<string, string | string[] | undefined>>
}

/** A guide one setting at a time, for a phone in front of the display. Without scripts it is a list. */
export default async function FollowPage({ params, searchParams }: Props) {
  const at = await guideAt(context(), (await params).slug)
  if (!at) notFound()
  if (at.kind === 'moved') permanentRedirect(`/guides/${at.slug}/follow?case=${at.case}`)
  const { guide } = at
  if (guide.withdrawn) redirect(`/guides/${guide.slug}`)
  const { document } = guide
  const asked = (await searchParams).case
  const of = document.cases.find((c) => c.viewingCase.key === asked) ?? document.cases[0]!
  const steps = followSteps(document, of)
  const unitSteps = followSteps(document, of, true).filter((s) => !steps.some((p) => p.control === s.control))
  return (
    <>
      <title>{`${document.title}, step by step`}</title>
      <h1 className="text-lg font-semibold">
        <a href={`/guides/${guide.slug}`} className="hover:underline">
          {document.display.maker} {document.display.model} {document.display.sizeInch}
        </a>
      </h1>
      <nav aria-label="Viewing cases" className="mt-1 mb-6 flex flex-wrap gap-x-5 gap-y-1">
        {document.cases.map((c) => (
          <a
            key={c.viewingCase.key}
            href={`/guides/${guide.slug}/follow?case=${c.viewingCase.key}`}
            aria-current={c === of ? 'page' : undefined}
            className={c === of ? 'border-lamp border-b-2' : 'text-soft'}
          >
            {c.viewingCase.label}
          </a>
        ))}
      </nav>
      <FollowAlong
        slug={guide.slug}
        revision={guide.revision}
        publishedOn={day(guide.publishedAt)}
        keptAs={`wexmar-follow ${guide.slug} ${guide.revision} ${of.viewingCase.key}`}
        first={
          of.hdr
            ? 'Play something in HDR first: the display keeps its HDR settings apart, and shows them only while HDR arrives.'
            : ''
        }
        steps={steps}
        unitSteps={unitSteps}
      />
      <noscript>
        <p className="text-faint text-sm">
          Revision {guide.revision}, {day(guide.publishedAt)}.
        </p>
        <ol className="mt-6 list-decimal pl-6">
          {steps.map((s) => (
            <li key={s.control} className="py-2">
              {[...s.path, s.label].join(' › ')}: <strong>{s.set}</strong>
            </li>
          ))}
        </ol>
      </noscript>
    </>
  )
}
