import Link from 'next/link'
import { notFound } from 'next/navigation'
import { inputsTyped } from '#core/entry'
import { sayLink } from '#core/signal'
import { context } from '#server/base'
import { inputsView } from '#server/model'
import { LineButton, Trail } from '#ui/desk'
import { InputsForm, SocketForm } from '#ui/signal-path'
import { removeSocketAction, saveInputsAction, saveSocketAction } from '../../../signal-actions'

export const dynamic = 'force-dynamic'

export default async function InputsPage({ params }: { params: Promise<{ slug: string }> }) {
  const { slug } = await params
  const view = await inputsView(context(), slug)
  if (!view) notFound()
  const sockets = view.inputs?.sockets ?? []
  return (
    <>
      <title>{`Sockets of ${view.maker} ${view.name} · Wexmar`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/models/${slug}`, text: `${view.maker} ${view.name}` },
        ]}
      />
      <h1 className="figure mb-2 text-5xl">Sockets</h1>
      <p className="mb-8 max-w-2xl text-soft">
        What the display takes, and over which socket. The{' '}
        <Link className="link" href={`/signal-path?model=${slug}`}>
          signal path
        </Link>{' '}
        is planned from it.
      </p>
      <div className="grid gap-x-16 gap-y-10 md:grid-cols-2">
        <section>
          <h2 className="figure border-ink mb-3 border-b pb-2 text-2xl">What it takes</h2>
          <InputsForm action={saveInputsAction.bind(null, slug)} begin={inputsTyped(view.inputs)} />
        </section>
        <section>
          <h2 className="figure border-ink border-b pb-2 text-2xl">Its sockets</h2>
          <ul className="mb-6">
            {sockets.length === 0 && (
              <li className="py-2 text-soft">None yet: say first which pictures it takes.</li>
            )}
            {sockets.map((s) => (
              <li key={s.key} className="rule-b flex justify-between gap-4 py-2">
                <span>
                  {s.label}{' '}
                  <span className="text-faint">
                    {sayLink(s.link)}
                    {s.unlock ? ', once unlocked' : ''}
                    {s.soundSystem ? ', also the sound system’s' : ''}
                  </span>
                </span>
                <LineButton
                  action={removeSocketAction.bind(null, slug, s.key)}
                  label="Remove"
                  of={s.label}
                  asks="Really remove it?"
                />
              </li>
            ))}
          </ul>
          <SocketForm
            action={saveSocketAction.bind(null, slug)}
            unlocks={view.unlocks}
            labels={view.labels}
          />
        </section>
      </div>
    </>
  )
}
