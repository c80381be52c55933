import { Fragment, type ReactNode } from 'react'
import type { CaseDocument, GuideDocument, GuideMeasure } from '#core/guide'
import { sayBought, sayCopying } from '#core/guide'
import { day } from '#ui/desk'
import { Term, type TermKey } from '#ui/glossary'
import { GuideHdrSection } from './guide-hdr'
import { ValueTable } from './value-table'

export const Facts = ({
  title,
  rows,
}: {
  title: string
  rows: ReadonlyArray<readonly [string, ReactNode]>
}) => (
  <section className="rule-t pt-5 pb-6">
    <h3 className="mb-2 font-semibold">{title}</h3>
    <dl className="grid grid-cols-[6rem_1fr] gap-y-1.5 text-[0.95rem]">
      {rows.map(([name, value]) => (
        <Fragment key={name}>
          <dt className="text-faint">{name}</dt>
          <dd>{value}</dd>
        </Fragment>
      ))}
    </dl>
  </section>
)

export const Sentences = ({ title, sentences }: { title: string; sentences: readonly string[] }) => (
  <section className="rule-t pt-5 pb-6">
    <h3 className="mb-2 font-semibold">{title}</h3>
    {sentences.map((s) => (
      <p key={s} className="mb-1.5 text-[0.95rem] text-soft">
        {s}
      </p>
    ))}
  </section>
)

type Row = readonly [term: TermKey, name: string, before: string, after: string]

const Compare = ({ before, after, hdr }: { before: GuideMeasure; after: GuideMeasure; hdr: boolean }) => {
  const rows: Row[] = [
    [
      'peak-white',
      hdr ? 'Brightest balanced grey, cd/m²' : 'White, cd/m²',
      before.luminance.toFixed(0),
      after.luminance.toFixed(0),
    ],
    [
      'greyscale',
      'Greyscale ΔE00, luminance excluded',
      before.whiteError.average.toFixed(1),
      after.whiteError.average.toFixed(1),
    ],
    ['greyscale', 'at worst', before.whiteError.worst.toFixed(1), after.whiteError.worst.toFixed(1)],
    ...(before.natural && after.natural
      ? ([
          [
            'memory-colours',
            `Memory colours, ${hdr ? 'ΔE ITP' : 'ΔE00'}`,
            before.natural.average.toFixed(1),
            after.natural.average.toFixed(1),
          ],
        ] as Row[])
      : []),
    ['cct', 'White point, K', before.cct.toFixed(0), after.cct.toFixed(0)],
    ...(hdr
      ? []
      : ([
          ['gamma', 'Gamma', before.gamma?.toFixed(2) ?? '–', after.gamma?.toFixed(2) ?? '–'],
          ['contrast', 'Contrast', before.contrast?.toFixed(0) ?? '–', after.contrast?.toFixed(0) ?? '–'],
        ] as Row[])),
  ]
  return (
    <table className="w-full text-[0.95rem]">
      <caption className="sr-only">Measured before and after</caption>
      <thead>
        <tr className="text-left text-faint">
          <td />
          <th scope="col" className="py-1 text-right font-normal">
            out of the box
          </th>
          <th scope="col" className="py-1 text-right font-normal">
            calibrated
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([term, name, a, b]) => (
          <tr key={name}>
            <th scope="row" className="py-1 text-left font-normal text-soft">
              <Term of={term}>{name}</Term>
            </th>
            <td className="py-1 pl-3 text-right">{a}</td>
            <td className="py-1 pl-3 text-right font-bold">{b}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Greyscale ΔE by level before and after, drawn so that it needs no script. */
export const ErrorBars = ({
  before,
  after,
  reference,
}: {
  before: GuideMeasure
  after: GuideMeasure
  /** Of HDR: luminance of the brightest balanced grey, cd/m²; levels are places on a scale up to it. */
  reference?: number | undefined
}) => {
  const most = Math.max(
    3,
    ...before.levels.map((l) => l.whiteError),
    ...after.levels.map((l) => l.whiteError),
  )
  const height = 90
  const y = (e: number) => height - (e / most) * height
  const x = (level: number) => 26 + (level - 0.1) * 255
  return (
    <svg
      viewBox="0 0 290 132"
      className="mt-3 w-full max-w-sm"
      role="img"
      aria-label={`Greyscale ΔE by level: ${before.whiteError.average.toFixed(1)} on average before, ${after.whiteError.average.toFixed(1)} after.`}
    >
      {[0, 1, Math.floor(most)].map((e) => (
        <g key={e}>
          <path
            d={`M20 ${y(e) + 6}H284`}
            className={e === 1 ? 'stroke-lamp' : 'stroke-line'}
            strokeDasharray={e === 1 ? '4 3' : undefined}
          />
          <text x="14" y={y(e) + 10} className="fill-faint text-[10px]" textAnchor="end">
            {e}
          </text>
        </g>
      ))}
      {before.levels.map((l) => (
        <circle
          key={`b${l.level}`}
          cx={x(l.level)}
          cy={y(l.whiteError) + 6}
          r="4"
          className="fill-ground stroke-faint"
          strokeWidth="1.4"
        />
      ))}
      {after.levels.map((l) => (
        <circle key={`a${l.level}`} cx={x(l.level)} cy={y(l.whiteError) + 6} r="4" className="fill-ink" />
      ))}
      {[0.1, 0.5, 1].map((l) => (
        <text key={l} x={x(l)} y="112" className="fill-faint text-[10px]" textAnchor="middle">
          {reference === undefined ? `${l * 100} %` : `${(reference * l ** 2.2).toPrecision(2)} cd/m²`}
        </text>
      ))}
      <text x="20" y="128" className="fill-faint text-[10px]">
        ΔE00 at each grey{reference === undefined ? ' level' : ''}. Ring: out of the box. Disc: calibrated.
        Below the dashes: hard to see.
      </text>
    </svg>
  )
}

/** The room table: a value of the luminance control for each usual luminance. */
const Room = ({ rows }: { rows: NonNullable<CaseDocument['room']> }) => (
  <section className="rule-t pt-5 pb-6">
    <h3 className="mb-2 font-semibold">For your room</h3>
    <table className="w-full text-[0.95rem]">
      <caption className="sr-only">Value of the luminance control by the luminance of white</caption>
      <thead>
        <tr className="text-left text-faint">
          <th scope="col" className="py-1 font-normal">
            White, cd/m²
          </th>
          <th scope="col" className="py-1 text-right font-normal">
            set to
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.target}>
            <th scope="row" className="num py-1 text-left font-normal text-soft">
              {r.expected.toFixed(0)}
              {r.extrapolated && <span className="text-faint"> estimated</span>}
            </th>
            <td className="num py-1 text-right font-bold">{r.shown}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </section>
)

/** What may look wrong, how to go back, and cautions. */
const Help = ({ document }: { document: CaseDocument }) => {
  const { troubles = [], goBack = [], cautions = [] } = document
  return (
    <section className="mt-8 max-w-2xl text-soft">
      {troubles.length > 0 && (
        <>
          <h3 className="mb-1 font-semibold text-ink">If it looks wrong</h3>
          <dl className="mb-5">
            {troubles.map((t) => (
              <div key={t.looks} className="rule-b py-2">
                <dt className="text-ink">{t.looks}</dt>
                <dd>{t.do}</dd>
              </div>
            ))}
          </dl>
        </>
      )}
      <h3 className="mb-1 font-semibold text-ink">To go back</h3>
      {goBack.length > 0 ? (
        goBack.map((g) => <p key={g}>{g}</p>)
      ) : (
        <p>Reset the picture mode in the display’s own menu.</p>
      )}
      {cautions.length > 0 && (
        <>
          <h3 className="mt-5 mb-1 font-semibold text-ink">Take care</h3>
          {cautions.map((c) => (
            <p key={c}>{c}</p>
          ))}
        </>
      )}
    </section>
  )
}

/** One viewing case of a guide: its settings, and beside them what was measured. */
export const CaseSection = ({
  document,
  guide,
  slug,
}: {
  document: CaseDocument
  guide: GuideDocument
  slug: string
}) => {
  const { display, method, before, after, viewingCase } = document
  const shared = new Set(guide.shared.filter((s) => s.cases.includes(viewingCase.key)).map((s) => s.control))
  const bought = sayBought(document)
  const spread = guide.spread.filter((s) => s.case === viewingCase.key)
  return (
    <section id={viewingCase.key} aria-labelledby={`${viewingCase.key}-title`} className="scroll-mt-6">
      <h2
        id={`${viewingCase.key}-title`}
        className="mt-10 mb-2 inline-block border-lamp border-b-2 pb-1 font-semibold text-2xl"
      >
        {viewingCase.label}
      </h2>
      <div className="grid gap-x-16 gap-y-8 lg:grid-cols-[minmax(0,1fr)_18.5rem]">
        <div>
          {!guide.summary.startsWith(document.summary) && (
            <p className="max-w-2xl text-lg text-soft">{document.summary}</p>
          )}
          <p className="print:hidden mt-2">
            <a className="link" href={`/guides/${slug}/follow?case=${viewingCase.key}`}>
              Follow along on a phone, one setting at a time
            </a>
          </p>
          {document.words?.split(/\n{2,}/).map((p) => (
            <p key={p} className="mt-3 max-w-2xl whitespace-pre-line text-lg">
              {p}
            </p>
          ))}
          <ValueTable
            values={document.values.filter((v) => !shared.has(v.control))}
            overwritten={guide.overwritten}
            caseKey={viewingCase.key}
            slug={slug}
          />
          {document.hdr && <GuideHdrSection hdr={document.hdr} />}
          <Help document={document} />
        </div>
        <aside>
          <Facts
            title={method.heading}
            rows={[
              ['Unit', `${display.sizeInch} inch, ${display.region}, ${display.unit}, ${display.origin}`],
              ['Firmware', display.firmware],
              ['Measured', day(method.measuredOn)],
              ['Meter', method.meter],
              ['Patterns', method.patternSource],
              ...(document.signal ? ([['Signal', document.signal]] as const) : []),
              ['Readings', String(method.readings)],
              [
                'Target',
                document.hdr
                  ? `${document.targets.tone}, ${document.targets.white}`
                  : `${document.targets.luminance} cd/m², ${document.targets.white}, ${document.targets.tone}`,
              ],
              ...(document.policy ? ([['Policy', document.policy.name]] as const) : []),
            ]}
          />
          <section className="rule-t pt-5 pb-6">
            <h3 className="mb-2 font-semibold">Before and after</h3>
            <Compare before={before} after={after} hdr={document.hdr !== undefined} />
            {document.worse.map((w) => (
              <p key={w} className="mt-2 text-sm text-lamp">
                Worse than before: {w}
              </p>
            ))}
            <ErrorBars before={before} after={after} reference={document.hdr ? after.luminance : undefined} />
          </section>
          {bought && <Sentences title="What each adjustment bought" sentences={[bought]} />}
          {document.room && document.room.length > 0 && <Room rows={document.room} />}
          {document.copying && document.copying.length > 0 && (
            <Sentences
              title="What copying does"
              sentences={[
                ...document.copying.map(sayCopying),
                'Units are assumed to differ by 2 % in each channel: a stated figure, not a measured one.',
              ]}
            />
          )}
          {spread.length > 0 && (
            <Sentences
              title="How units differ"
              sentences={spread.map(
                (s) => `${s.label}: ${s.units.map((u) => `${u.shown} (${u.unit})`).join(', ')}.`,
              )}
            />
          )}
          {document.policy && document.policy.preferences.length > 0 && (
            <Sentences title="Preferences" sentences={document.policy.preferences} />
          )}
          {document.ending && document.ending.length > 0 && (
            <Sentences title="Why it ended here" sentences={document.ending} />
          )}
          {document.limits && document.limits.length > 0 && (
            <Sentences title="Not reached, not judged" sentences={document.limits} />
          )}
        </aside>
      </div>
    </section>
  )
}
