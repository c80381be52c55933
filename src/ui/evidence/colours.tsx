import type { EvidenceSeries } from '#server/evidence'
import { Mark, type MarkKind, Swatch } from '#ui/charts'

/** Colours: the patch beside what it should be, and how far they are apart. */
export const Colours = ({
  shown,
  marks,
  onOpen,
}: {
  shown: readonly EvidenceSeries[]
  marks: readonly MarkKind[]
  onOpen: (reading: number) => void
}) => {
  const own = shown.flatMap((s, i) => (s.verdict.colours.length ? [{ s, mark: marks[i]! }] : []))
  const patches = [...new Set(own.flatMap(({ s }) => s.verdict.colours.map((c) => c.patch)))]
  return (
    <section className="overflow-x-auto">
      <h2 className="mb-1 font-semibold">
        Colour errors <span className="text-sm font-normal text-faint">measured beside its target, ΔE00</span>
      </h2>
      <table className="quiet-table">
        <thead>
          <tr>
            <th scope="col">patch</th>
            {own.map(({ s, mark }) => (
              <th key={s.key} scope="col" colSpan={2}>
                <span className="inline-flex items-center gap-2">
                  <Mark kind={mark} /> {s.label}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {patches.map((patch) => (
            <tr key={patch}>
              <th scope="row">{patch}</th>
              {own.map(({ s }) => {
                const c = s.verdict.colours.find((one) => one.patch === patch)
                return c ? (
                  <Pair key={s.key} colour={c} onOpen={onOpen} />
                ) : (
                  <td key={s.key} colSpan={2}>
                    –
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

const Pair = ({
  colour,
  onOpen,
}: {
  colour: EvidenceSeries['verdict']['colours'][number]
  onOpen: (reading: number) => void
}) => (
  <>
    <td className="w-24">
      <span aria-hidden="true" className="flex">
        <Swatch className="h-5 w-9" rgb={colour.swatch} />
        <Swatch className="h-5 w-9" rgb={colour.wantedSwatch} />
      </span>
    </td>
    <td className="n">
      <button type="button" className="link" onClick={() => onOpen(colour.id)}>
        {colour.deltaE.toFixed(2)}
        <span className="sr-only"> ΔE00 for {colour.patch}: open the reading</span>
      </button>{' '}
      <span className="text-xs text-faint">
        {colour.luminance >= 0 ? '+' : '−'}
        {Math.abs(100 * colour.luminance).toFixed(0)} % light, Δu′v′ {colour.chromaticity.toFixed(4)}
      </span>
    </td>
  </>
)
