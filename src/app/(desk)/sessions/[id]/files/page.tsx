import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { context } from '#server/base'
import { sessionHead } from '#server/session'
import { Trail } from '#ui/desk'
import { ImportFiles } from '#ui/files'

export const dynamic = 'force-dynamic'

const OUT = [
  ['readings.csv', 'All readings as CSV', 'bad ones included, each with its settings'],
  ['readings.txt', 'Usable readings as CGATS.17 text', 'signals in percent, XYZ in cd/m²'],
  ['state.json', 'The settings of this session', 'one value for each control'],
  ['sheet.json', 'The control sheet', 'all controls in menu order'],
] as const

export default async function Files({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  const head = id ? await sessionHead(context(), id) : undefined
  if (!head) notFound()
  return (
    <>
      <title>{`Files · ${head.display}`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/units/${head.unitId}`, text: `${head.display}, ${head.unit}` },
          { href: `/sessions/${head.id}`, text: head.caseLabel },
        ]}
      />
      <h1 className="figure mb-8 text-5xl">Files</h1>
      <div className="grid gap-12 lg:grid-cols-[20rem_minmax(0,1fr)]">
        <section>
          <h2 className="figure border-ink border-b pb-2 text-2xl">Out</h2>
          <ul>
            {OUT.map(([kind, name, more]) => (
              <li key={kind} className="rule-b py-2.5">
                <a className="link" href={`/api/sessions/${head.id}/files/${kind}`} download>
                  {name}
                </a>
                <span className="block text-sm text-faint">{more}</span>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="figure border-ink mb-4 border-b pb-2 text-2xl">In</h2>
          <p className="mb-4 max-w-2xl text-soft">
            Readings taken elsewhere. They belong to the settings that this session has now.
          </p>
          <ImportFiles session={head.id} canSetState={head.devices.display === 'hand'} />
        </section>
      </div>
    </>
  )
}
