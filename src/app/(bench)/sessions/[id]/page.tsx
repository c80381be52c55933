import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { sessionHead } from '#server/session'
import { viewAtOnce } from '#server/view'
import { BenchPage } from '#ui/bench'

export const dynamic = 'force-dynamic'

export default async function SessionPage({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  const head = id ? await sessionHead(context(), id) : undefined
  if (!head) notFound()
  const view = await viewAtOnce(context(), head.id)
  return (
    <>
      <title>{`${head.display}, ${head.caseLabel} · Wexmar`}</title>
      <BenchPage
        id={head.id}
        name={`${head.display}, ${head.unit}: ${head.caseLabel}`}
        known={view}
        guideHref={`/sessions/${head.id}/guide`}
      />
    </>
  )
}
