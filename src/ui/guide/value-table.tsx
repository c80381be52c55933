import { ROLE_TERM } from '#core/display'
import {
  type GuideValue,
  type SettingRow,
  TRANSFER_LABEL,
  type TransferClass,
  valueGroups,
} from '#core/guide/document'
import { sayGroupShared } from '#core/guide/formats'
import { Prose } from './prose'

/** How much of a disc is filled is how safely a value travels. */
export const TransferMark = ({ kind }: { kind: TransferClass }) => (
  <svg viewBox="0 0 14 14" className="inline-block size-3.5 shrink-0" aria-hidden="true">
    <circle cx="7" cy="7" r="5.6" className="fill-none stroke-ink" strokeWidth="1.2" />
    {kind === 'copy' && <circle cx="7" cy="7" r="5.6" className="fill-ink" />}
    {kind === 'start-here' && <path d="M7 1.4a5.6 5.6 0 0 0 0 11.2z" className="fill-ink" />}
  </svg>
)

/** Many pages of a menu as one table: a row for each page, a column for each label on it. */
const PagesRow = ({ values, shared }: { values: readonly GuideValue[]; shared: string }) => {
  const pages = [...new Set(values.map((v) => v.path.at(-1) ?? ''))]
  const labels = [...new Set(values.map((v) => v.label))]
  const { transfer, why } = values.find((v) => v.changed) ?? values[0]!
  const comes = [...new Set(values.map((v) => v.comesAs))]
  return (
    <tr className="rule-b align-top">
      <td colSpan={4} className="py-3">
        <p className="mb-2 flex flex-wrap items-baseline gap-x-4 text-sm text-faint">
          <span>
            {why} {comes.length === 1 ? `Factory default of all: ${comes[0]}.` : ''}
          </span>
          <span className="inline-flex items-center gap-2 text-soft">
            <TransferMark kind={transfer} /> {TRANSFER_LABEL[transfer]}
          </span>
        </p>
        {shared && <p className="mb-2 text-sm text-lamp">{shared}</p>}
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

const ValueRow = ({
  value,
  shared,
  caseKey,
  slug,
}: {
  value: GuideValue
  shared: string
  caseKey: string
  slug: string
}) => (
  <tr className="rule-b align-top">
    <th scope="row" className="py-3 pr-4 text-left font-normal">
      <span className={value.changed ? 'text-lg' : 'text-lg text-soft'}>{value.label}</span>{' '}
      <span className="text-sm text-faint">{value.term ?? ROLE_TERM[value.role]}</span>
      <span className="block max-w-sm text-sm text-faint">{value.why}</span>
      {value.words && (
        <div className="max-w-sm text-[0.95rem] text-soft">
          <Prose text={value.words} />
        </div>
      )}
      {shared && <span className="block max-w-sm text-sm text-lamp">{shared}</span>}
      {value.rule && value.readings.length > 0 && (
        <details className="text-sm text-faint">
          <summary>How it was measured</summary>
          {value.rule.replace(/\.$/, '')}; rests on{' '}
          {slug ? (
            <a className="link" href={`/guides/${slug}/readings/${caseKey}/${value.control}`}>
              {value.readings.length} readings
            </a>
          ) : (
            `${value.readings.length} readings`
          )}
          .
        </details>
      )}
    </th>
    <td className="py-3 pr-4">
      {value.changed ? (
        <strong className="figure text-2xl">{value.shown}</strong>
      ) : (
        <span className="text-soft">{value.shown} (unchanged)</span>
      )}
    </td>
    <td className="py-3 pr-4 text-soft max-sm:hidden">{value.comesAs}</td>
    <td className="py-3 text-sm whitespace-nowrap text-soft">
      {value.changed && (
        <span className="inline-flex items-center gap-2">
          <TransferMark kind={value.transfer} /> {TRANSFER_LABEL[value.transfer]}
        </span>
      )}
      {value.transferReason && (
        <span className="block max-w-40 whitespace-normal text-faint">{value.transferReason}</span>
      )}
    </td>
  </tr>
)

/** The settings of one viewing case in menu order. */
export const ValueTable = ({
  rows,
  caseKey = '',
  slug = '',
}: {
  rows: readonly SettingRow[]
  caseKey?: string
  /** Of the published guide, whose readings can be opened; empty on the desk. */
  slug?: string
}) => (
  <table className="w-full border-collapse">
    <caption className="sr-only">Settings in the order of the menus</caption>
    <thead>
      <tr className="rule-b text-left text-sm text-faint">
        <th scope="col" className="py-2 pr-4 font-normal">
          In menu order
        </th>
        <th scope="col" className="py-2 pr-4 font-normal">
          Set to
        </th>
        <th scope="col" className="py-2 pr-4 font-normal max-sm:hidden">
          Factory default
        </th>
        <th scope="col" className="py-2 font-normal">
          Safe to copy?
        </th>
      </tr>
    </thead>
    {valueGroups(rows.map((r) => r.value)).map((g) => (
      <tbody key={g.path} className="break-inside-avoid">
        <tr className="border-ink border-b">
          <th scope="colgroup" colSpan={4} className="pt-5 pb-1 text-left text-sm font-normal text-faint">
            {g.pages ?? g.path}
          </th>
        </tr>
        {g.pages ? (
          <PagesRow
            values={g.values}
            shared={sayGroupShared(rows.filter((r) => g.values.includes(r.value)))}
          />
        ) : (
          g.values.map((v) => (
            <ValueRow
              key={v.control}
              value={v}
              caseKey={caseKey}
              slug={slug}
              shared={rows.find((r) => r.value === v)?.shared ?? ''}
            />
          ))
        )}
      </tbody>
    ))}
  </table>
)
