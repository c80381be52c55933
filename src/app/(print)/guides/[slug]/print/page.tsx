import { notFound, permanentRedirect, redirect } from 'next/navigation'
import { context, publicOrigin } from '#server/base'
import { guideAt } from '#server/guide'
import { PrintSheet } from '#ui/guide'

export const dynamic = 'force-dynamic'

/** A guide for paper. */
export default async function PrintPage({ params }: { params: Promise<{ slug: string }> }) {
  const at = await guideAt(context(), (await params).slug)
  if (!at) notFound()
  if (at.kind === 'moved') permanentRedirect(`/guides/${at.slug}/print`)
  const { document, revision, publishedAt, slug, withdrawn } = at.guide
  if (withdrawn) redirect(`/guides/${slug}`)
  return (
    <>
      <title>{`${document.title}, for paper`}</title>
      <PrintSheet
        document={document}
        revision={revision}
        publishedAt={publishedAt}
        address={`${publicOrigin()}/guides/${slug}`}
      />
    </>
  )
}
