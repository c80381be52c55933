import type { Metadata } from 'next'
import { notFound } from 'next/navigation'
import { eyePattern } from '#core/pattern'
import { PatternPage } from '#ui/patterns'

type Params = { params: Promise<{ key: string }> }

export const generateMetadata = async ({ params }: Params): Promise<Metadata> => ({
  title: eyePattern((await params).key)?.title ?? 'Pattern',
})

export default async function Page({ params }: Params) {
  const pattern = eyePattern((await params).key)
  if (!pattern) notFound()
  return <PatternPage pattern={pattern.key} />
}
