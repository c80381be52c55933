import { notFound } from 'next/navigation'
import { context, publicGuide } from '#server'
import { PublicGuide } from '#ui/guide'

export const dynamic = 'force-dynamic'
type Props = { params: Promise<{ slug: string }> }

export const generateMetadata = async ({ params }: Props) => {
  const guide = await publicGuide(context(), (await params).slug)
  return guide
    ? { title: { absolute: guide.document.title }, description: guide.document.summary }
    : { title: 'No such guide' }
}

export default async function GuidePage({ params }: Props) {
  const guide = await publicGuide(context(), (await params).slug)
  if (!guide) notFound()
  return (
    <PublicGuide
      document={guide.document}
      revision={guide.revision}
      publishedAt={guide.publishedAt}
      links={{ json: `/guides/${guide.slug}.json`, markdown: `/guides/${guide.slug}.md` }}
    />
  )
}
