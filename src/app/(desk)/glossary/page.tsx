import { Trail } from '#ui/desk'
import { Glossary } from '#ui/glossary'

export default function GlossaryPage() {
  return (
    <>
      <title>Glossary · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure text-5xl">Glossary</h1>
      <p className="mt-2 max-w-2xl text-soft">
        The terms on Wexmar’s pages and in its guides. Beside each maker’s own label Wexmar gives the standard
        term of what the control does.
      </p>
      <Glossary />
    </>
  )
}
