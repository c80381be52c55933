import Link from 'next/link'
import { idOf } from '#app/params'
import { BitDepth, Chroma, LinkKey, LinkUse, Range, sayLink } from '#core/signal'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { type PlannerWish, plannerView } from '#server/model'
import { LineButton, Trail } from '#ui/desk'
import { PlannerQuestions, PlannerReckoning, PlannerTable, RangeMatrix, SourceForm } from '#ui/signal-path'
import { addSourceAction, removeSourceAction } from '../signal-actions'

export const dynamic = 'force-dynamic'

type Params = Readonly<Record<string, string | string[] | undefined>>

const wishOf = (params: Params): PlannerWish => {
  const one = (name: string): string => {
    const value = params[name]
    return ((Array.isArray(value) ? value[0] : value) ?? '').slice(0, 80)
  }
  const [, width, height, rate] = /^(\d{2,5})x(\d{2,5})@(\d{1,3}(?:\.\d{1,3})?)$/.exec(one('at')) ?? []
  const depth = BitDepth.safeParse(Number(one('depth'))).data
  const chroma = Chroma.safeParse(one('chroma')).data
  return {
    model: one('model'),
    socket: one('socket'),
    source: idOf(one('source')),
    cable: LinkKey.safeParse(one('cable')).data ?? 'frl-48',
    use: LinkUse.safeParse(one('use')).data ?? 'game',
    range: Range.safeParse(one('range')).data ?? 'limited',
    unlocked: one('unlocked') !== 'no',
    labelled: one('labelled') !== 'no',
    ...(width && height && rate && Number(rate) >= 1 && depth && chroma
      ? {
          cell: { width: Number(width), height: Number(height), rate: Number(rate), bitDepth: depth, chroma },
        }
      : {}),
  }
}

export default async function SignalPathPage({ searchParams }: { searchParams: Promise<Params> }) {
  const wish = wishOf(await searchParams)
  const view = await plannerView(context(), wish)
  const ranges = view.chosen.model ? await heavy.rangesSeen(context(), view.chosen.model) : []
  return (
    <>
      <title>Signal path · Wexmar</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure mb-2 text-5xl">Signal path</h1>
      <p className="mb-6 max-w-2xl text-soft">
        What of a source arrives at a socket of a display, at each rate, and what to give up first where it
        does not fit.
      </p>
      {view.models.length === 0 || view.sources.length === 0 ? (
        <p className="max-w-2xl">
          {view.sources.length === 0 ? 'Add a source below. ' : ''}
          {view.models.length === 0
            ? 'Enter the sockets of a display on its model’s page, under “Sockets”.'
            : ''}
        </p>
      ) : (
        <>
          <PlannerQuestions view={view} wish={wish} />
          {view.settings.length > 0 && (
            <ul className="mt-5 max-w-3xl text-soft">
              {view.settings.map((s) => (
                <li key={s}>{s}</li>
              ))}
            </ul>
          )}
          <div className="mt-6">
            <PlannerTable view={view} wish={wish} />
          </div>
          {view.cell && <PlannerReckoning cell={view.cell} />}
          <p className="mt-4 text-sm text-soft">
            <Link className="link" href={`/models/${view.chosen.model}/inputs`}>
              Sockets of this display
            </Link>
          </p>
        </>
      )}
      <RangeMatrix ranges={ranges} />
      <section className="mt-10 grid gap-x-16 gap-y-8 md:grid-cols-2">
        <div>
          <h2 className="figure border-ink border-b pb-2 text-2xl">Sources</h2>
          <ul>
            {view.sources.map(({ id, source }) => (
              <li key={id} className="rule-b flex justify-between gap-4 py-2">
                <span>
                  {source.name} <span className="text-faint">{sayLink(source.link)}</span>
                </span>
                <LineButton
                  action={removeSourceAction.bind(null, id)}
                  label="Remove"
                  of={source.name}
                  asks="Really remove it?"
                />
              </li>
            ))}
          </ul>
        </div>
        <div>
          <h2 className="figure border-ink mb-3 border-b pb-2 text-2xl">Add a source</h2>
          <SourceForm action={addSourceAction} />
        </div>
      </section>
    </>
  )
}
