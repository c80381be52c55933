import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { visualPattern } from '#core/pattern'
import { PatternPage } from '#ui/patterns'

type Params = { params: Promise<{ key: string }> }

export const generateMetadata = async ({ params }: Params): Promise<Metadata> => ({
  title: visualPattern((await params).key)?.title ?? 'Pattern',
})

export default async function Page({ params }: Params) {
  const pattern = visualPattern((await params).key)
  if (!pattern) notFound()
  return <PatternPage pattern={pattern.key} />
}
