import { Fragment, type ReactNode } from 'react'
import { ROLE_TERM } from '#core/display'
import type { GuideDocument, GuideMeasure, GuideValue, TransferClass } from '#core/guide'
import { TRANSFER_LABEL } from '#core/guide'
import { day } from '#ui/desk'
import { Term, type TermKey } from '#ui/glossary'
import { GuideHdrSection } from './guide-hdr'

/** How much of a disc is filled is how safely a value travels. */
const TransferMark = ({ kind }: { kind: TransferClass }) => (
  <svg viewBox="0 0 14 14" className="inline-block size-3.5 shrink-0" aria-hidden="true">
    <circle cx="7" cy="7" r="5.6" className="fill-none stroke-ink" strokeWidth="1.2" />
    {kind === 'copy' && <circle cx="7" cy="7" r="5.6" className="fill-ink" />}
    {kind === 'start-here' && <path d="M7 1.4a5.6 5.6 0 0 0 0 11.2z" className="fill-ink" />}
  </svg>
)

/** Values of one page of the menu; or of many pages that are labelled alike, as levels and colours are. */
interface Group {
  readonly path: string
  readonly values: GuideValue[]
  /** Path that the pages have in common, where they stand in one table. */
  readonly pages?: string
}

/** Pages from which on they stand in one table. */
const MANY_PAGES = 3

const groups = (values: readonly GuideValue[]): Group[] => {
  const out: Array<Group & { above: string }> = []
  for (const value of values) {
    const path = value.path.join(' › ')
    if (out.at(-1)?.path === path) out.at(-1)!.values.push(value)
    else out.push({ path, values: [value], above: value.path.slice(0, -1).join(' › ') })
  }
  const labels = (g: Group) => g.values.map((v) => v.label).join('|')
  const merged: Group[] = []
  for (let i = 0; i < out.length; ) {
    const first = out[i]!
    let end = i + 1
    while (
      end < out.length &&
      first.above &&
      out[end]!.above === first.above &&
      labels(out[end]!) === labels(first)
    )
      end++
    if (end - i >= MANY_PAGES)
      merged.push({
        path: first.path,
        pages: first.above,
        values: out.slice(i, end).flatMap((g) => g.values),
      })
    else merged.push(...out.slice(i, end))
    i = end
  }
  return merged
}

/** Many pages of a menu as one table: a row for each page, a column for each label on it. */
const PagesRow = ({ values }: { values: readonly GuideValue[] }) => {
  const pages = [...new Set(values.map((v) => v.path.at(-1) ?? ''))]
  const labels = [...new Set(values.map((v) => v.label))]
  const { transfer, why } = values.find((v) => v.changed) ?? values[0]!
  const comes = [...new Set(values.map((v) => v.comesAs))]
  return (
    <tr className="rule-b align-top">
      <td colSpan={4} className="py-3">
        <p className="mb-2 flex flex-wrap items-baseline gap-x-4 text-sm text-faint">
          <span>
            {why} {comes.length === 1 ? `All come as ${comes[0]}.` : ''}
          </span>
          <span className="inline-flex items-center gap-2 text-soft">
            <TransferMark kind={transfer} /> {TRANSFER_LABEL[transfer]}
          </span>
        </p>
        <table className="w-full max-w-xl border-collapse">
          <thead>
            <tr className="rule-b text-sm text-faint">
              <td />
              {labels.map((l) => (
                <th key={l} scope="col" className="px-2 py-1 text-right font-normal">
                  {l}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {pages.map((page) => (
              <tr key={page} className="rule-b">
                <th scope="row" className="py-1 text-left font-normal text-soft">
                  {page}
                </th>
                {labels.map((label) => {
                  const value = values.find((v) => v.path.at(-1) === page && v.label === label)
                  return (
                    <td key={label} className="num px-2 py-1 text-right">
                      {value?.changed ? (
                        <strong className="font-bold">{value.shown}</strong>
                      ) : (
                        <span className="text-faint">{value?.shown}</span>
                      )}
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </td>
    </tr>
  )
}

const ValueRow = ({ value }: { value: GuideValue }) => (
  <tr className="rule-b align-top">
    <th scope="row" className="py-3 pr-4 text-left font-normal">
      <span className={value.changed ? 'text-lg' : 'text-lg text-soft'}>{value.label}</span>{' '}
      <span className="text-sm text-faint">{ROLE_TERM[value.role]}</span>
      <span className="block max-w-sm text-sm text-faint">{value.why}</span>
      {value.rule && value.readings.length > 0 && (
        <details className="text-sm text-faint">
          <summary>How we got it</summary>
          {value.rule}; rests on {value.readings.length} readings.
        </details>
      )}
    </th>
    <td className="py-3 pr-4">
      {value.changed ? (
        <strong className="figure text-2xl">{value.shown}</strong>
      ) : (
        <span className="text-soft">leave {value.shown}</span>
      )}
    </td>
    <td className="py-3 pr-4 text-soft max-sm:hidden">{value.comesAs}</td>
    <td className="py-3 text-sm whitespace-nowrap text-soft">
      {value.changed && (
        <span className="inline-flex items-center gap-2">
          <TransferMark kind={value.transfer} /> {TRANSFER_LABEL[value.transfer]}
        </span>
      )}
    </td>
  </tr>
)

/** The settings of one viewing case in menu order. */
export const ValueTable = ({ values }: { values: readonly GuideValue[] }) => (
  <table className="w-full border-collapse">
    <caption className="sr-only">Settings in the order of the menus</caption>
    <thead>
      <tr className="rule-b text-left text-sm text-faint">
        <th scope="col" className="py-2 font-normal">
          In menu order
        </th>
        <th scope="col" className="py-2 font-normal">
          Set to
        </th>
        <th scope="col" className="py-2 font-normal max-sm:hidden">
          Factory default
        </th>
        <th scope="col" className="py-2 font-normal">
          Safe to copy?
        </th>
      </tr>
    </thead>
    {groups(values).map((g) => (
      <tbody key={g.path} className="break-inside-avoid">
        <tr className="border-ink border-b">
          <th scope="colgroup" colSpan={4} className="pt-5 pb-1 text-left text-sm font-normal text-faint">
            {g.pages ?? g.path}
          </th>
        </tr>
        {g.pages ? (
          <PagesRow values={g.values} />
        ) : (
          g.values.map((v) => <ValueRow key={v.control} value={v} />)
        )}
      </tbody>
    ))}
  </table>
)

const Facts = ({ title, rows }: { title: string; rows: ReadonlyArray<readonly [string, ReactNode]> }) => (
  <section className="rule-t pt-5 pb-6">
    <h2 className="mb-2 font-semibold">{title}</h2>
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

const Sentences = ({ title, sentences }: { title: string; sentences: readonly string[] }) => (
  <section className="rule-t pt-5 pb-6">
    <h2 className="mb-2 font-semibold">{title}</h2>
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
const ErrorBars = ({
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

/** A guide as readers see it. */
export const PublicGuide = ({
  document,
  revision,
  publishedAt,
  links,
}: {
  document: GuideDocument
  revision: number
  publishedAt?: string
  links?: { json: string; markdown: string }
}) => {
  const { display, method, before, after } = document
  const words = document.title.endsWith(' settings')
    ? [document.title.slice(0, -' settings'.length), 'settings']
    : [document.title, '']
  return (
    <article className="grid gap-x-16 gap-y-8 lg:grid-cols-[minmax(0,1fr)_18.5rem]">
      <div>
        <h1 className="figure text-5xl leading-none sm:text-6xl">
          {words[0]} <span className="font-light">{words[1]}</span>
        </h1>
        <p className="mt-4 max-w-2xl text-xl text-soft">{document.summary}</p>
        <h2 className="mt-8 mb-2 inline-block border-lamp border-b-2 pb-1 text-lg font-semibold">
          {document.viewingCase.label}
        </h2>
        <ValueTable values={document.values} />
        {document.hdr && <GuideHdrSection hdr={document.hdr} />}
        <section className="mt-8 max-w-2xl text-soft">
          <h2 className="mb-1 font-semibold text-ink">If it looks wrong</h2>
          <p>
            To go back, reset the picture mode in the display’s own menu. A value that is greyed out usually
            needs another one first: set them from the top down, and choose “{document.baseMode}” before all
            others. Values marked “Start here” were right for our unit and are near for yours; if white looks
            tinted with them, put the gains and cuts back and keep the rest.
          </p>
        </section>
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
            ['Readings', String(method.readings)],
            [
              'Target',
              document.hdr
                ? `${document.targets.tone}, ${document.targets.white}`
                : `${document.targets.luminance} cd/m², ${document.targets.white}, ${document.targets.tone}`,
            ],
            ...(document.policy ? ([['Policy', document.policy.name]] as const) : []),
            ['Revision', publishedAt ? `${revision}, ${day(publishedAt)}` : `${revision}, not published yet`],
          ]}
        />
        <section className="rule-t pt-5 pb-6">
          <h2 className="mb-2 font-semibold">Before and after</h2>
          <Compare before={before} after={after} hdr={document.hdr !== undefined} />
          {document.worse.map((w) => (
            <p key={w} className="mt-2 text-sm text-lamp">
              Worse than before: {w}
            </p>
          ))}
          <ErrorBars before={before} after={after} reference={document.hdr ? after.luminance : undefined} />
        </section>
        <section className="rule-t pt-5 pb-6">
          <h2 className="mb-2 font-semibold">Safe to copy?</h2>
          <ul className="grid gap-1.5 text-[0.95rem] text-soft">
            <li className="flex items-baseline gap-2">
              <TransferMark kind="copy" /> Copy: the same on every unit.
            </li>
            <li className="flex items-baseline gap-2">
              <TransferMark kind="start-here" /> Start here: right for ours, near for yours.
            </li>
            <li className="flex items-baseline gap-2">
              <TransferMark kind="this-unit-only" /> This unit only: do not copy.
            </li>
          </ul>
        </section>
        {document.policy && document.policy.preferences.length > 0 && (
          <Sentences title="Preferences" sentences={document.policy.preferences} />
        )}
        {document.ending && document.ending.length > 0 && (
          <Sentences title="Why it ended here" sentences={document.ending} />
        )}
        {document.limits && document.limits.length > 0 && (
          <Sentences title="Not reached, not judged" sentences={document.limits} />
        )}
        {document.otherSizes.length > 0 && (
          <section className="rule-t pt-5 pb-6">
            <h2 className="mb-2 font-semibold">Other sizes</h2>
            <p className="text-[0.95rem] text-soft">
              {document.otherSizes.join(', ').replace(/, (\d+)$/, ' and $1')} inch were not measured here.
              Switches are likely the same; luminance and white may not be.
            </p>
          </section>
        )}
        {links && (
          <p className="rule-t print:hidden flex gap-4 pt-5 text-sm text-faint">
            This guide as{' '}
            <a className="link" href={links.json}>
              data
            </a>
            <a className="link" href={links.markdown}>
              text
            </a>
          </p>
        )}
      </aside>
    </article>
  )
}
