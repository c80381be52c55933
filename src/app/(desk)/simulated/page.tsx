import Link from 'next/link'
import { context } from '#server/base'
import { simulationView } from '#server/equipment'
import { Trail } from '#ui/desk'
import { SimulatedBench } from '#ui/simulated'
import { simulationAction } from '../bench-actions'

export const dynamic = 'force-dynamic'

export default async function Simulated() {
  const view = await simulationView(context())
  return (
    <>
      <title>Simulated devices · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure mb-2 text-5xl">Simulated devices</h1>
      {view.ok ? (
        <SimulatedBench view={view.value} action={simulationAction} />
      ) : (
        <p className="mt-6 max-w-xl text-soft">
          {view.error}{' '}
          <Link className="link" href="/">
            Back to the bench
          </Link>
        </p>
      )}
    </>
  )
}
