import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { context, sessionView } from '#server'
import { PatchPage } from '#ui/patches'

export const dynamic = 'force-dynamic'

export default async function Patches({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  const view = id ? await sessionView(context(), id) : undefined
  if (!view) notFound()
  return (
    <>
      <title>{`Patches · ${view.plate.display}`}</title>
      <PatchPage session={view.id} title={view.plate.display} />
    </>
  )
}
