import { context } from '#server/base'
import { usualEquipment } from '#server/equipment'
import { Trail, UsualEquipmentForm } from '#ui/desk'
import { equipmentAction } from '../actions'

export const dynamic = 'force-dynamic'

export default async function EquipmentPage() {
  const ctx = context()
  const equipment = await usualEquipment(ctx)
  const hasBench = ctx.bench.base !== ''
  return (
    <>
      <title>Equipment · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure mb-2 text-5xl">Equipment</h1>
      <p className="mb-8 max-w-2xl text-soft">
        What every new case begins with; each case may differ.{' '}
        {hasBench
          ? 'A unit that is not on the bench is set and read by hand.'
          : 'This installation has no bench: you set the display with its remote and type or paste what the meter shows.'}
      </p>
      <div className="max-w-md">
        <UsualEquipmentForm action={equipmentAction} equipment={equipment} hasBench={hasBench} />
      </div>
    </>
  )
}
