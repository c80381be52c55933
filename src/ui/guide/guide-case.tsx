import type { Block } from '#core/guide/document'
import type { CaseOutline } from '#core/guide/formats'
import { BlockBody, BlockSections } from '#ui/blocks'
import { EotfCurve } from './eotf-curve'
import { ErrorBars, GammaByLevel } from './grey-charts'
import { Prose } from './prose'
import { ValueTable } from './value-table'

const Chart = ({ block }: { block: Extract<Block, { kind: 'chart' }> }) => {
  switch (block.chart) {
    case 'greys':
      return <ErrorBars before={block.before} after={block.after} reference={block.reference} />
    case 'gamma':
      return <GammaByLevel before={block.before} after={block.after} aim={block.aim} />
    case 'eotf':
      return <EotfCurve hdr={block.hdr} />
  }
}

/** Any block of a guide, without its heading. */
export const GuideBlock = ({ block, caseKey, slug }: { block: Block; caseKey: string; slug: string }) => {
  switch (block.kind) {
    case 'settings':
      return <ValueTable rows={block.rows} caseKey={caseKey} slug={slug} />
    case 'prose':
      return <Prose text={block.text} />
    case 'chart':
      return <Chart block={block} />
    default:
      return <BlockBody block={block} />
  }
}

/** What a case begins with: it stands under the heading of the case. */
const FIRST: ReadonlySet<string> = new Set(['summary', 'words', 'settings'])

/** One viewing case of a guide: its settings, and beside them what was measured. */
export const CaseSection = ({
  outline: { key, label, blocks },
  slug,
}: {
  outline: CaseOutline
  slug: string
}) => {
  const body = (block: Block) => <GuideBlock block={block} caseKey={key} slug={slug} />
  const own = blocks.filter((b) => !b.beside)
  return (
    <section id={key} aria-labelledby={`${key}-title`} className="scroll-mt-6">
      <h2
        id={`${key}-title`}
        className="mt-10 mb-2 inline-block border-lamp border-b-2 pb-1 font-semibold text-2xl"
      >
        {label}
      </h2>
      <div className="grid gap-x-16 gap-y-8 lg:grid-cols-[minmax(0,1fr)_18.5rem]">
        <div>
          {own
            .filter((b) => b.key === 'summary' || b.key === 'words')
            .map((b) => (
              <div key={b.key} className="mb-2 text-lg">
                {body(b)}
              </div>
            ))}
          <p className="print:hidden mt-2">
            <a className="link" href={`/guides/${slug}/follow?case=${key}`}>
              Follow along on a phone, one setting at a time
            </a>
          </p>
          {own
            .filter((b) => b.key === 'settings')
            .map((b) => (
              <div key={b.key}>{body(b)}</div>
            ))}
          <div className="mt-8">
            <BlockSections heading="h3" blocks={own.filter((b) => !FIRST.has(b.key))} body={body} />
          </div>
        </div>
        <aside>
          <BlockSections heading="h3" blocks={blocks.filter((b) => b.beside)} body={body} />
        </aside>
      </div>
    </section>
  )
}
