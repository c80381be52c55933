import type { CaseDocument, GuideValue } from '#core/guide/document'
import type { BehindReading, PublicGuide } from '#server/guide'
import { day } from '#ui/static'
import type { Page } from './document'

const Readings = ({ value, readings }: { value: GuideValue; readings: readonly BehindReading[] }) => (
  <div className="mt-8 overflow-x-auto">
    <table className="w-full border-collapse">
      <caption className="sr-only">Readings that this value rests on</caption>
      <thead>
        <tr className="rule-b text-left text-sm text-faint">
          {['Patch', value.label, 'Luminance, cd/m²', 'x', 'y', 'Δu′v′ from D65', 'Read on'].map((h, i) => (
            <th key={h} scope="col" className={`py-2 pr-4 font-normal ${i > 1 && i < 6 ? 'text-right' : ''}`}>
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {readings.map((r) => (
          <tr key={r.id} className="rule-b">
            <th scope="row" className="py-1.5 pr-4 text-left font-normal">
              {r.patch}
            </th>
            <td className="num py-1.5 pr-4 text-soft">{r.value ?? ''}</td>
            <td className="num py-1.5 pr-4 text-right">
              {r.luminance.toPrecision(4)}
              {r.sigma !== null && <span className="text-faint"> ±{r.sigma.toPrecision(1)}</span>}
            </td>
            <td className="num py-1.5 pr-4 text-right">{r.x.toFixed(4)}</td>
            <td className="num py-1.5 pr-4 text-right">{r.y.toFixed(4)}</td>
            <td className="num py-1.5 pr-4 text-right">{r.deltaUv === null ? '' : r.deltaUv.toFixed(4)}</td>
            <td className="py-1.5 text-faint">{day(r.takenAt)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </div>
)

/** The readings behind one published value. */
export const readingsPage = (
  { slug, document }: PublicGuide,
  of: CaseDocument,
  value: GuideValue,
  readings: readonly BehindReading[],
): Page => {
  const lost = new Set(value.readings).size - readings.length
  return {
    title: `${value.label}: its readings · ${document.title}`,
    body: (
      <>
        <p className="text-faint">
          <a className="link" href={`/guides/${slug}#${of.viewingCase.key}`}>
            {document.title}
          </a>
          , {of.viewingCase.label}
        </p>
        <h1 className="figure mt-2 text-5xl leading-none">
          {value.label} <span className="font-light">{value.shown}</span>
        </h1>
        <p className="mt-4 max-w-2xl text-lg text-soft">
          {value.rule ? `${value.rule.charAt(0).toUpperCase()}${value.rule.slice(1)}.` : value.why} It rests
          on {readings.length} {readings.length === 1 ? 'reading' : 'readings'} of {of.display.unit}, firmware{' '}
          {of.display.firmware}.
        </p>
        {lost > 0 && (
          <p className="mt-2 text-lamp">
            {lost} more {lost === 1 ? 'is' : 'are'} no longer kept here.
          </p>
        )}
        {readings.length > 0 && <Readings value={value} readings={readings} />}
      </>
    ),
  }
}
