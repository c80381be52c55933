import { notFound, permanentRedirect } from 'next/navigation'
import { CARD } from '#core/guide/document'
import { context, publicOrigin } from '#server/base'
import { guideAt } from '#server/guide'
import { PublicGuide, StructuredData } from '#ui/guide'
import { Withdrawn } from './withdrawn'

export const dynamic = 'force-dynamic'
type Props = {
  params: Promise<{ slug: string }>
  searchParams: Promise<Record<string, string | string[] | undefined>>
}

export const generateMetadata = async ({ params }: Props) => {
  const at = await guideAt(context(), (await params).slug)
  if (at?.kind !== 'guide') return { title: 'No such guide' }
  const { document, slug } = at.guide
  return {
    title: { absolute: document.title },
    description: document.summary,
    alternates: { canonical: `${publicOrigin()}/guides/${slug}` },
    openGraph: {
      type: 'article',
      title: document.title,
      description: document.summary,
      url: `${publicOrigin()}/guides/${slug}`,
      images: [
        {
          url: `${publicOrigin()}/guides/${slug}/card.png`,
          ...CARD,
          alt: `Greyscale error of ${document.title} by level, before and after`,
        },
      ],
    },
  }
}

export default async function GuidePage({ params, searchParams }: Props) {
  const at = await guideAt(context(), (await params).slug)
  if (!at) notFound()
  // Guides of one viewing case have become sections of the display’s guide.
  if (at.kind === 'moved') permanentRedirect(`/guides/${at.slug}#${at.case}`)
  const { guide } = at
  if (guide.withdrawn) return <Withdrawn title={guide.document.title} why={guide.withdrawn} />
  return (
    <>
      <StructuredData guide={guide} origin={publicOrigin()} />
      <PublicGuide guide={guide} answer={String((await searchParams).report ?? '').slice(0, 20)} />
    </>
  )
}
