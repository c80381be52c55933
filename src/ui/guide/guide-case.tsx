import { Fragment, type ReactNode } from 'react'
import type { CaseDocument, GuideDocument, GuideMeasure } from '#core/guide'
import { measuredIn, sayBought, sayCopying, sayRecheck, saySpread } from '#core/guide'
import { day } from '#ui/desk'
import { Term, type TermKey } from '#ui/glossary'
import { PlaySection } from '#ui/play'
import { ErrorBars, GammaByLevel } from './grey-charts'
import { GuideHdrSection } from './guide-hdr'
import { Prose } from './prose'
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
          <th scope="col" className="py-1 pl-3 text-right font-normal">
            out of the box
          </th>
          <th scope="col" className="py-1 pl-3 text-right font-normal">
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
  const { display, method, viewingCase } = document
  const measured = measuredIn(document)
  const shared = new Set(guide.shared.filter((s) => s.cases.includes(viewingCase.key)).map((s) => s.control))
  const bought = sayBought(document)
  const reread = sayRecheck(document)
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
          {document.words && <Prose text={document.words} />}
          <ValueTable
            values={document.values.filter((v) => !shared.has(v.control))}
            overwritten={guide.overwritten}
            caseKey={viewingCase.key}
            slug={slug}
          />
          {document.hdr && <GuideHdrSection hdr={document.hdr} />}
          {document.play && (
            <section className="rule-t pt-5 pb-6">
              <PlaySection play={document.play} />
            </section>
          )}
          <Help document={document} />
        </div>
        <aside>
          <Facts
            title={method.heading}
            rows={[
              ['Unit', `${display.sizeInch} inch, ${display.region}, ${display.unit}, ${display.origin}`],
              ['Firmware', display.firmware],
              [measured ? 'Measured' : 'Set', day(method.measuredOn)],
              ...(measured
                ? ([
                    ['Meter', method.meter],
                    ...(method.correction ? ([['Correction', method.correction]] as const) : []),
                    ['Patterns', method.patternSource],
                  ] as const)
                : []),
              ...(document.signal ? ([['Signal', document.signal]] as const) : []),
              ...(method.room ? ([['Room', method.room]] as const) : []),
              ...(measured
                ? ([
                    ['Readings', String(method.readings)],
                    [
                      'Target',
                      document.hdr
                        ? `${document.targets.tone}, ${document.targets.white}`
                        : `${document.targets.luminance} cd/m², ${document.targets.white}, ${document.targets.tone}`,
                    ],
                  ] as const)
                : []),
              ...(measured && document.policy ? ([['Policy', document.policy.name]] as const) : []),
            ]}
          />
          {measured && (
            <section className="rule-t pt-5 pb-6">
              <h3 className="mb-2 font-semibold">Before and after</h3>
              <Compare {...measured} hdr={document.hdr !== undefined} />
              {document.worse.map((w) => (
                <p key={w} className="mt-2 text-sm text-lamp">
                  Worse than before: {w}
                </p>
              ))}
              <ErrorBars {...measured} reference={document.hdr ? measured.after.luminance : undefined} />
              {!document.hdr && <GammaByLevel {...measured} aim={document.aim ?? []} />}
            </section>
          )}
          {document.looked && <Sentences title="Looked at" sentences={document.looked} />}
          {reread && <Sentences title="Read again" sentences={[reread]} />}
          {bought && <Sentences title="What each adjustment bought" sentences={[bought]} />}
          {document.room && document.room.length > 0 && <Room rows={document.room} />}
          {document.copying && document.copying.length > 0 && (
            <Sentences
              title="What copying does"
              sentences={[...document.copying.map(sayCopying), saySpread(document) ?? '']}
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
