import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { context, sessionView } from '#server'
import { Bench } from '#ui/bench'

export const dynamic = 'force-dynamic'
type Props = { params: Promise<{ id: string }> }

const load = async ({ params }: Props) => {
  const id = idOf((await params).id)
  return id ? sessionView(context(), id) : undefined
}

export default async function SessionPage(props: Props) {
  const view = await load(props)
  if (!view) notFound()
  return (
    <>
      <title>{`${view.plate.display}, ${view.plate.viewingCase} · Wexmar`}</title>
      <Bench first={view} guideHref={`/sessions/${view.id}/guide`} />
    </>
  )
}
