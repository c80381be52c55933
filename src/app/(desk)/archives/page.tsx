import { Trail } from '#ui/desk'
import { ArchiveUpload } from '#ui/files'

export default function Archives() {
  return (
    <>
      <title>Archives · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure mb-4 text-5xl">Import a unit</h1>
      <p className="mb-6 max-w-2xl text-soft">
        An archive holds a unit with its control sheet, sessions, runs, every reading with its circumstances,
        adjustments and guides. Importing restores all of it. A unit that is here already is not changed. To
        save an archive, open the unit’s page.
      </p>
      <ArchiveUpload />
    </>
  )
}
