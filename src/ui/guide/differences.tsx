import type { GuideDifferences } from '#core/guide/document'

/** In what two revisions of a guide differ, by value, with the reason of the newer one. */
export const DifferencesTable = ({ differences }: { differences: GuideDifferences }) => {
  const { values, casesAdded, casesRemoved, measured, wordsChanged } = differences
  const said = [
    ...casesAdded.map((c) => `New: ${c}.`),
    ...casesRemoved.map((c) => `No longer in it: ${c}.`),
    ...measured,
    ...(wordsChanged ? ['Words were changed.'] : []),
  ]
  return (
    <>
      {said.map((s) => (
        <p key={s} className="mt-1">
          {s}
        </p>
      ))}
      {values.length === 0 ? (
        <p className="mt-1">No value differs.</p>
      ) : (
        <table className="mt-3 w-full border-collapse text-[0.95rem]">
          <caption className="sr-only">Values that differ</caption>
          <thead>
            <tr className="rule-b text-left text-faint">
              <th scope="col" className="py-1 pr-4 font-normal">
                Setting
              </th>
              <th scope="col" className="py-1 pr-4 font-normal">
                before
              </th>
              <th scope="col" className="py-1 pr-4 font-normal">
                now
              </th>
              <th scope="col" className="py-1 font-normal max-sm:hidden">
                Why
              </th>
            </tr>
          </thead>
          <tbody>
            {values.map((v) => (
              <tr key={`${v.case} ${v.control}`} className="rule-b align-top">
                <th scope="row" className="py-1.5 pr-4 text-left font-normal">
                  {v.path}
                  <span className="block text-sm text-faint">{v.caseLabel}</span>
                </th>
                <td className="num py-1.5 pr-4 text-soft">{v.before ?? '–'}</td>
                <td className="num py-1.5 pr-4 font-bold">{v.after ?? '–'}</td>
                <td className="py-1.5 text-faint max-sm:hidden">{v.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  )
}
