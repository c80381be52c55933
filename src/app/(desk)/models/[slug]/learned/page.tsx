import { notFound } from 'next/navigation'
import { context } from '#server/base'
import { priorsView } from '#server/model'
import { Trail } from '#ui/desk'
import { forgetAction } from '../../../policy-actions'

export const dynamic = 'force-dynamic'

export default async function PriorsPage({ params }: { params: Promise<{ slug: string }> }) {
  const { slug } = await params
  const view = await priorsView(context(), slug)
  if (!view) notFound()
  const { model, priors } = view
  const controls = [...new Set(priors.map((l) => [...l.path, l.control].join(' › ')))]
  return (
    <>
      <title>{`What we know about ${model} · Wexmar`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/models/${slug}`, text: model },
        ]}
      />
      <h1 className="figure text-5xl">What we know about {model}</h1>
      <p className="mt-2 max-w-2xl text-soft">
        How its controls responded in the modes, cases and units measured so far. The next case starts from
        this learned response and needs fewer readings; every new reading can overrule it. What you forget is
        not used again until it is measured again.
      </p>
      {priors.length === 0 ? (
        <p className="mt-8 text-faint">
          Nothing yet. The first finished case adds the learned response of its controls.
        </p>
      ) : (
        <form action={forgetAction} className="mt-6">
          <input type="hidden" name="model" value={slug} />
          <button type="submit" name="all" value="yes" className="button button-quiet min-h-9 text-sm">
            Forget all of it
          </button>
          <div className="mt-6 grid gap-3">
            {controls.map((control) => {
              const own = priors.filter((l) => [...l.path, l.control].join(' › ') === control)
              return (
                <details key={control} className="rule-b pb-3">
                  <summary>
                    {control}{' '}
                    <span className="text-sm text-faint">
                      {own.length} {own.length === 1 ? 'learned response' : 'learned responses'}, from{' '}
                      {own[0]!.sources.join('; ')}
                    </span>
                  </summary>
                  <ul className="mt-2 grid gap-1 pl-5">
                    {own.map((l) => (
                      <li key={`${l.name} ${l.says}`} className="flex flex-wrap items-baseline gap-x-4">
                        <span>
                          {l.says} <span className="text-faint">{l.certainty}</span>
                        </span>
                        <span className="text-sm text-faint">
                          {l.readings} {l.readings === 1 ? 'reading' : 'readings'}
                        </span>
                        <button type="submit" name="prior" value={l.name} className="link ml-auto text-sm">
                          Forget<span className="sr-only"> this of {l.control}</span>
                        </button>
                      </li>
                    ))}
                  </ul>
                </details>
              )
            })}
          </div>
        </form>
      )}
    </>
  )
}
