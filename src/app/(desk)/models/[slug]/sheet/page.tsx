import { notFound } from 'next/navigation'
import { context } from '#server/base'
import { sheetDraftView } from '#server/model'
import { Trail } from '#ui/desk'
import { SheetEditor } from '#ui/sheet'
import { copySheetAction, saveDraftAction, sheetOfBenchAction, useDraftAction } from '../../../sheet-actions'

export const dynamic = 'force-dynamic'

export default async function SheetPage({ params }: { params: Promise<{ slug: string }> }) {
  const { slug } = await params
  const view = await sheetDraftView(context(), slug)
  if (!view) notFound()
  const name = `${view.maker} ${view.model}`
  return (
    <div data-wide>
      <title>{`Control sheet of ${name} · Wexmar`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/models/${slug}`, text: name },
        ]}
      />
      <h1 className="figure mb-2 text-4xl">
        Control sheet
        <span className="font-light text-faint">, {name}</span>
      </h1>
      <p className="mb-5 max-w-3xl text-soft">
        Walk the display’s menu from the first page to the last and write each control down as it stands
        there. What it does is proposed in grey; write it where it is not so. Everything is saved as you type.
      </p>
      <SheetEditor
        view={view}
        save={saveDraftAction.bind(null, view.modelId)}
        use={useDraftAction.bind(null, view.modelId)}
        next={view.units[0] ? `/units/${view.units[0].id}` : `/models/${slug}`}
        copy={copySheetAction}
        fromBench={sheetOfBenchAction}
      />
    </div>
  )
}
