import type { CaseDocument } from '#core/guide'
import { TRANSFER_LABEL } from '#core/guide'
import { ClassField, WordsField } from './words'

const PLACE_MOST = 600

/** The changed values of a case, each with what an editor says of it. In: case without words of an editor. */
export const ValueWords = ({ document }: { document: CaseDocument }) => {
  const { key } = document.viewingCase
  const changed = document.values.filter((v) => v.changed && !v.covers)
  return (
    <ul className="border-ink border-t">
      {changed.map((v) => (
        <li key={v.control} className="rule-b py-2">
          <details>
            <summary className="flex cursor-pointer items-baseline gap-4">
              <span className="flex-1">
                <span className="text-faint text-sm">{v.path.join(' › ')} › </span>
                {v.label}
              </span>
              <strong className="num">{v.shown}</strong>
              <span className="w-28 text-right text-faint text-sm">
                {v.words || v.transferReason ? 'with words' : TRANSFER_LABEL[v.transfer]}
              </span>
            </summary>
            <div className="grid gap-4 py-3 sm:grid-cols-[minmax(0,1fr)_15rem]">
              <WordsField
                place={`value:${key}:${v.control}`}
                label="Said of it, beside what is computed"
                proposal=""
                hint={v.why}
                rows={2}
                most={PLACE_MOST}
              />
              <ClassField place={`class:${key}:${v.control}`} own={v.transfer} labels={TRANSFER_LABEL} />
            </div>
          </details>
        </li>
      ))}
    </ul>
  )
}
