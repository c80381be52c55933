import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { sessionHead } from '#server/session'
import { PatchPage } from '#ui/patches'

export const dynamic = 'force-dynamic'

export default async function Patches({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  const head = id ? await sessionHead(context(), id) : undefined
  if (!head) notFound()
  return (
    <>
      <title>{`Patches · ${head.display}`}</title>
      <PatchPage session={head.id} title={head.display} />
    </>
  )
}
