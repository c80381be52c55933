import type { FindingsView } from '#server/view'
import {
  ColoursByLuminanceChart,
  HdrLuminanceChart,
  HdrStopsChart,
  HlgChart,
  MappingChart,
  PeakChart,
} from '#ui/charts'

/** What each value of the tone mapping control does, with its price. */
export const MappingPanel = ({ mappings }: { mappings: NonNullable<FindingsView['mappings']> }) => (
  <section className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-2">
    <div>
      <h2 className="mb-1 font-semibold">“{mappings.control}”</h2>
      <ul className="grid gap-2">
        {mappings.options.map((o) => (
          <li key={o.value} className={o.chosen ? '' : 'text-soft'}>
            <strong className="font-semibold">{o.label}</strong>
            {o.chosen && <span className="text-faint">, chosen</span>}: {o.sentence}
          </li>
        ))}
      </ul>
    </div>
    <MappingChart
      height={270}
      options={mappings.options.map((o) => ({ label: o.label, marked: o.chosen, curve: o.curve }))}
    />
  </section>
)

/** HDR as it ended: what it comes to, the curve, what it is off by, and the peak. */
export const HdrPanel = ({ hdr }: { hdr: NonNullable<FindingsView['hdr']> }) => (
  <section className="grid grid-cols-[minmax(0,1fr)] gap-6">
    <ul className="grid max-w-3xl gap-1">
      {hdr.sentences.map((s) => (
        <li key={s}>{s}</li>
      ))}
    </ul>
    <div className="grid grid-cols-[minmax(0,1fr)] gap-6 md:grid-cols-2">
      <HdrLuminanceChart hdr={hdr} height={320} />
      <HdrStopsChart hdr={hdr} height={320} />
      <PeakChart hdr={hdr} height={230} />
      {hdr.asked?.hlg && <HlgChart hlg={hdr.asked.hlg} height={320} />}
      {hdr.asked && hdr.asked.colours.length > 0 && (
        <ColoursByLuminanceChart colours={hdr.asked.colours} height={320} />
      )}
    </div>
  </section>
)
