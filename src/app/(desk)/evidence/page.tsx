import { idOf } from '#app/params'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { evidenceView } from '#server/evidence'
import { Trail } from '#ui/desk'
import { EvidenceDesk } from '#ui/evidence'

export const dynamic = 'force-dynamic'
type Props = { searchParams: Promise<{ runs?: string | string[]; unit?: string | string[] }> }

const one = (text: string | string[] | undefined) => (Array.isArray(text) ? text[0] : text)

export default async function Evidence({ searchParams }: Props) {
  const { runs, unit } = await searchParams
  const ids = (one(runs) ?? '').split(',').flatMap((text) => idOf(text) ?? [])
  // A list alone, of which nothing is drawn, is only asked of the database.
  const see = ids.length ? heavy.evidenceView : evidenceView
  const view = await see(context(), { runs: ids, unitId: idOf(one(unit) ?? '') })
  return (
    <>
      <title>Evidence · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure mb-6 text-5xl">Evidence</h1>
      <EvidenceDesk view={view} />
    </>
  )
}
