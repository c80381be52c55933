import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { CorrectionForm } from '#ui/corrections'
import { Trail } from '#ui/desk'
import { correctionAction, referenceAction } from '../../bench-actions'

export const dynamic = 'force-dynamic'
type Props = { searchParams: Promise<{ session?: string | string[] }> }

export default async function NewCorrection({ searchParams }: Props) {
  const { session } = await searchParams
  const id = idOf(typeof session === 'string' ? session : '')
  const source = id ? await heavy.correctionSource(context(), id) : undefined
  if (!id || !source) notFound()
  return (
    <>
      <title>Four-colour correction · Wexmar</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/sessions/${id}`, text: source.display },
        ]}
      />
      <h1 className="figure mb-4 text-5xl">Four-colour correction</h1>
      <CorrectionForm session={id} source={source} action={correctionAction} reference={referenceAction} />
    </>
  )
}
