import { isByTheDozen } from '#core/guide/compose'
import { type CaseDocument, type GuideValue, TRANSFER_LABEL } from '#core/guide/document'
import { Fold } from './fold'
import { ClassField, WordsField } from './words'

/** A changed value with what an editor says of it. In: value; key of its case. */
const ValueLine = ({ v, caseKey }: { v: GuideValue; caseKey: string }) => (
  <li className="rule-b py-2">
    <Fold
      summary={
        <>
          <span className="min-w-0 flex-1">
            <span className="text-faint text-sm">{v.path.join(' › ')} › </span>
            {v.label}
          </span>
          <strong className="num">{v.shown}</strong>
          <span className="w-28 text-right text-faint text-sm max-sm:hidden">
            {TRANSFER_LABEL[v.transfer]}
          </span>
        </>
      }
    >
      <div className="grid gap-4 py-3 sm:grid-cols-[minmax(0,1fr)_15rem]">
        <WordsField
          place={`value:${caseKey}:${v.control}`}
          label="Your note on this value"
          proposal=""
          hint={v.why}
          rows={2}
          kind="rich"
        />
        <ClassField place={`class:${caseKey}:${v.control}`} own={v.transfer} labels={TRANSFER_LABEL} />
      </div>
    </Fold>
  </li>
)

/** The changed values of a case, each with what an editor says of it; those that come by the dozen are folded. In: case without words of an editor. */
export const ValueWords = ({ document }: { document: CaseDocument }) => {
  const { key } = document.viewingCase
  const changed = document.values.filter((v) => v.changed && !v.covers)
  const few = changed.filter((v) => !isByTheDozen(v.role))
  const many = changed.filter((v) => isByTheDozen(v.role))
  return (
    <>
      <ul className="border-ink border-t">
        {few.map((v) => (
          <ValueLine key={v.control} v={v} caseKey={key} />
        ))}
      </ul>
      {many.length > 0 && (
        <details className="mt-3">
          <summary className="text-soft">{many.length} single levels and colours</summary>
          <ul className="mt-2 border-ink border-t">
            {many.map((v) => (
              <ValueLine key={v.control} v={v} caseKey={key} />
            ))}
          </ul>
        </details>
      )}
    </>
  )
}
