import Link from 'next/link'
import { notFound } from 'next/navigation'
import { context } from '#server/base'
import { modelView } from '#server/unit'
import { FirmwareForm, Trail, VariantForm } from '#ui/desk'
import { variantAction } from '../../actions'
import { firmwareAction } from '../../guide-actions'

export const dynamic = 'force-dynamic'

export default async function ModelPage({ params }: { params: Promise<{ slug: string }> }) {
  const { slug } = await params
  const model = await modelView(context(), slug)
  if (!model) notFound()
  return (
    <>
      <title>{`${model.maker} ${model.name} · Wexmar`}</title>
      <Trail links={[{ href: '/', text: 'Bench' }]} />
      <h1 className="figure text-5xl">
        {model.maker} {model.name}
      </h1>
      <p className="mt-2 flex flex-wrap gap-x-6 text-lg text-soft">
        {model.panelKind}
        <Link className="link text-base" href={`/models/${slug}/learned`}>
          What we know about this model
        </Link>
        <Link className="link text-base" href={`/models/${slug}/inputs`}>
          Sockets
        </Link>
      </p>
      <div className="mt-8 grid gap-x-16 gap-y-10 md:grid-cols-2">
        <section>
          <h2 className="figure border-ink border-b pb-2 text-2xl">Sizes sold</h2>
          <ul>
            {model.variants.map((v) => (
              <li key={`${v.sizeInch}${v.region}`} className="rule-b flex justify-between py-2">
                <span>
                  {v.sizeInch} inch, {v.region}
                </span>
                <span className={v.units ? '' : 'text-faint'}>
                  {v.units === 0 ? 'not measured' : v.units === 1 ? '1 unit' : `${v.units} units`}
                </span>
              </li>
            ))}
          </ul>
          <VariantForm action={variantAction.bind(null, slug)} />
          <p className="mt-6 text-soft">
            Firmware known: {model.firmwares.join(', ') || 'none'}.{' '}
            <Link className="link" href="/desk/rechecks">
              Re-checks
            </Link>
          </p>
          <FirmwareForm action={firmwareAction.bind(null, slug)} />
        </section>
        <UnitsAndGuides model={model} slug={slug} />
      </div>
      <Sheet model={model} slug={slug} />
    </>
  )
}

type Model = NonNullable<Awaited<ReturnType<typeof modelView>>>

const UnitsAndGuides = ({ model, slug }: { model: Model; slug: string }) => (
  <section>
    <h2 className="figure border-ink border-b pb-2 text-2xl">Units and guides</h2>
    <ul>
      {model.units.map((u) => (
        <li key={u.id} className="rule-b flex justify-between gap-4 py-2">
          <Link href={`/units/${u.id}`} className="link">
            {u.display}, {u.label}
          </Link>
          <span className="text-faint">{u.readings} readings</span>
        </li>
      ))}
      {model.unitCount > model.units.length && (
        <li className="rule-b py-2">
          <Link className="link" href={`/units?model=${encodeURIComponent(slug)}`}>
            All {model.unitCount} units
          </Link>
        </li>
      )}
      {model.guides.map((g) => (
        <li key={g.slug} className="rule-b flex justify-between gap-4 py-2">
          <a href={`/guides/${g.slug}`} className="link">
            {g.title}
          </a>
          <span className="text-faint">revision {g.revision}</span>
        </li>
      ))}
    </ul>
  </section>
)

const Sheet = ({ model, slug }: { model: Model; slug: string }) => (
  <section className="mt-10">
    <h2 className="figure text-2xl">
      Control sheet{' '}
      {model.sheetVersion > 0 && (
        <span className="text-base font-normal text-faint">version {model.sheetVersion}</span>
      )}
    </h2>
    <p className="mt-1">
      <Link className="link" href={`/models/${slug}/sheet`}>
        {model.sheetVersion > 0 ? 'Change the control sheet' : 'Enter the menu of this display'}
      </Link>
    </p>
    <div className="overflow-x-auto">
      <table className="quiet-table mt-2">
        <thead>
          <tr>
            <th scope="col" className="max-md:hidden">
              Menu
            </th>
            <th scope="col">Label</th>
            <th scope="col">What it does</th>
            <th scope="col">Range</th>
            <th scope="col">Factory default</th>
            <th scope="col" className="max-md:hidden">
              Stored with
            </th>
          </tr>
        </thead>
        <tbody>
          {model.sheet.map((c) => (
            <tr key={c.path + c.label}>
              <td className="text-faint max-md:hidden">{c.path}</td>
              <th scope="row" className="text-base! text-ink!">
                <span className="block text-faint text-sm font-normal md:hidden">{c.path}</span>
                {c.label}
              </th>
              <td>
                {c.role}
                <span className="block text-sm text-soft md:hidden">{c.memory}</span>
                {c.caution && <span className="block max-w-xs text-sm text-lamp">{c.caution}</span>}
              </td>
              <td className="text-sm">{c.range}</td>
              <td>{c.comesAs}</td>
              <td className="text-sm text-soft max-md:hidden">{c.memory}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  </section>
)
