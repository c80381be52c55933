import Link from 'next/link'
import { IntakeByHandForm, Trail } from '#ui/desk'
import { takeInByHandAction } from '../../actions'

export default function NewUnit() {
  return (
    <>
      <title>Add a unit · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure mb-4 text-5xl">Add a unit</h1>
      <p className="mb-8 max-w-2xl text-soft">
        For a unit that stands on no bench: you set it with its remote and type what the meter shows. A unit
        that was saved elsewhere comes back with everything from its{' '}
        <Link className="link" href="/archives">
          archive
        </Link>
        .
      </p>
      <div className="max-w-md">
        <IntakeByHandForm action={takeInByHandAction} />
      </div>
    </>
  )
}
