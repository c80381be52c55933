import { type GuideDocument, measuredIn } from '#core/guide/document'
import type { CasePair } from '#core/guide/formats'
import { ErrorBars, GammaByLevel } from './grey-charts'

/** A guide that is compared, with where it stands. */
export interface ComparedGuide {
  readonly slug: string
  readonly revision: number
  readonly document: GuideDocument
}

const nameOf = ({ document, revision }: ComparedGuide, withRevision: boolean): string => {
  const { maker, model, sizeInch } = document.display
  return `${maker} ${model} ${sizeInch}${withRevision ? `, revision ${revision}` : ''}`
}

const Pair = ({ pair, names }: { pair: CasePair; names: readonly [string, string] }) => {
  const charts = [pair.a, pair.b].map((of) => of && { of, measured: measuredIn(of) })
  const both = charts.flatMap((c) => (c?.measured ? [c.measured.before, c.measured.after] : []))
  return (
    <section aria-labelledby={`compare-${pair.key}`}>
      <h2
        id={`compare-${pair.key}`}
        className="mt-12 mb-3 inline-block border-lamp border-b-2 pb-1 font-semibold text-2xl"
      >
        {pair.label}
      </h2>
      {(!pair.a || !pair.b) && (
        <p className="mb-3 text-soft">Measured for {pair.a ? names[0] : names[1]} alone.</p>
      )}
      <div className="grid gap-x-12 sm:grid-cols-2">
        {charts.map(
          (c, i) =>
            c && (
              <figure key={names[i]}>
                <figcaption className="font-semibold">{names[i]}</figcaption>
                {c.measured ? (
                  <>
                    <ErrorBars
                      title={`ΔE00 at each grey${c.of.hdr ? '' : ' level'}`}
                      {...c.measured}
                      reference={c.of.hdr ? c.measured.after.luminance : undefined}
                      beside={both}
                    />
                    {!c.of.hdr && (
                      <GammaByLevel
                        title="Gamma at each grey level"
                        {...c.measured}
                        aim={c.of.aim ?? []}
                        beside={both}
                      />
                    )}
                  </>
                ) : (
                  <p className="text-soft">{c.of.method.heading}.</p>
                )}
              </figure>
            ),
        )}
      </div>
      <table className="quiet-table compare mt-6">
        <caption className="pb-1 text-left text-faint text-sm">
          Measured, calibrated unless it says otherwise
        </caption>
        <thead>
          <tr>
            <td />
            {names.map((n) => (
              <th key={n} scope="col">
                {n}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {pair.figures.map((f) => (
            <tr key={f.name}>
              <th scope="row">{f.name}</th>
              <td className="num">{f.a ?? '–'}</td>
              <td className="num">{f.b ?? '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <table className="quiet-table compare mt-8">
        <caption className="pb-1 text-left text-faint text-sm">
          Settings; those of single levels and colours fit one unit and are not compared
        </caption>
        <thead>
          <tr>
            <th scope="col">What it does</th>
            {names.map((n) => (
              <th key={n} scope="col">
                {n}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {pair.settings.map((s) => (
            <tr key={`${s.term} ${s.a?.path ?? ''} ${s.b?.path ?? ''}`}>
              <th scope="row">
                {s.term}
                {s.differs && <span className="text-lamp text-sm"> differs</span>}
              </th>
              {[s.a, s.b].map((v, i) => (
                <td key={names[i]}>
                  {v ? (
                    <>
                      <span className={s.differs ? 'font-bold' : 'text-soft'}>{v.shown}</span>
                      <span className="block text-faint text-sm">{v.path}</span>
                    </>
                  ) : (
                    <span className="text-faint">no such setting</span>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

/** Two guides, or two revisions of one, side by side. */
export const Comparison = ({
  guides,
  pairs,
}: {
  guides: readonly [ComparedGuide, ComparedGuide]
  pairs: readonly CasePair[]
}) => {
  const sameGuide = guides[0].slug === guides[1].slug
  const names = [nameOf(guides[0], sameGuide), nameOf(guides[1], sameGuide)] as const
  return (
    <article>
      <h1 className="figure text-4xl leading-tight sm:text-5xl">
        {names[0]} <span className="font-light text-faint">against</span> {names[1]}
      </h1>
      <p className="mt-4 flex flex-wrap gap-x-6 gap-y-1 text-soft">
        {guides.map((g, i) => (
          <a
            key={names[i]}
            className="link"
            href={sameGuide ? `/guides/${g.slug}/revisions/${g.revision}` : `/guides/${g.slug}`}
          >
            Read {names[i]}
          </a>
        ))}
        <a className="link" href={`/guides/compare?a=${guides[0].slug}`}>
          Compare with another
        </a>
      </p>
      {pairs.map((p) => (
        <Pair key={p.key} pair={p} names={names} />
      ))}
    </article>
  )
}
