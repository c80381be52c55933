import { notFound } from 'next/navigation'
import { idOf, speechIn } from '#app/params'
import { chaptersVtt, cueSheet, SPEECH } from '#core/guide/formats'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { Trail } from '#ui/desk'

export const dynamic = 'force-dynamic'
type Props = {
  params: Promise<{ id: string }>
  searchParams: Promise<Record<string, string | string[] | undefined>>
}

const clock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`

/** A walk through the menus for whoever films it. */
export default async function CuesPage({ params, searchParams }: Props) {
  const id = idOf((await params).id)
  const found = id ? await heavy.guideDocument(context(), id) : undefined
  if (!id || !found) notFound()
  const { document, slug, isPublic } = found
  const query = await searchParams
  const of = document.cases.find((c) => c.viewingCase.key === query.case) ?? document.cases[0]!
  const pace = speechIn(query.wpm)
  const sheet = cueSheet(document, of, pace)
  const { maker, model, sizeInch } = document.display
  const name = `${maker} ${model} ${sizeInch}`
  return (
    <>
      <title>{`Cue sheet, ${name} · Wexmar`}</title>
      <Trail
        links={[
          { href: '/desk/guides', text: 'Guides' },
          { href: `/desk/guides/${id}`, text: name },
          { href: `/desk/guides/${id}/cues`, text: 'Cue sheet' },
        ]}
      />
      <h1 className="figure text-5xl">
        Cue sheet <span className="font-light text-faint">{name}</span>
      </h1>
      <p className="mt-3 max-w-2xl text-lg text-soft">
        A walk through the menus for a video: what is said, what is on the screen, and pauses long enough to
        read and to follow. {clock(sheet.seconds)} minutes in all.
      </p>
      <form className="print:hidden mt-6 flex flex-wrap items-end gap-3">
        <label className="grid gap-1 text-sm text-soft">
          Viewing case
          <select name="case" defaultValue={of.viewingCase.key} className="field">
            {document.cases.map((c) => (
              <option key={c.viewingCase.key} value={c.viewingCase.key}>
                {c.viewingCase.label}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1 text-sm text-soft">
          Words a minute
          <input
            name="wpm"
            type="number"
            min={SPEECH.slowest}
            max={SPEECH.quickest}
            step={5}
            defaultValue={pace}
            className="field w-28"
          />
        </label>
        <button type="submit" className="button button-quiet">
          Show
        </button>
      </form>
      <table className="mt-6 w-full border-collapse">
        <caption className="sr-only">Lines of the walk with their times</caption>
        <thead>
          <tr className="border-ink border-b text-left text-faint text-sm">
            <th scope="col" className="w-16 py-2 font-normal">
              At
            </th>
            <th scope="col" className="py-2 pr-4 font-normal">
              Said
            </th>
            <th scope="col" className="py-2 pr-4 font-normal max-sm:hidden">
              On the screen
            </th>
            <th scope="col" className="w-24 py-2 text-right font-normal">
              Seconds
            </th>
          </tr>
        </thead>
        <tbody>
          {sheet.cues.map((c) => (
            <tr key={c.at} className="rule-b align-top">
              <td className="num py-2.5 text-faint">{clock(c.at)}</td>
              <td className="py-2.5 pr-4">
                {c.chapter && <strong className="block font-semibold">{c.chapter}</strong>}
                {c.say}
                <span className="block text-faint text-sm sm:hidden">{c.show}</span>
              </td>
              <td className="py-2.5 pr-4 text-soft max-sm:hidden">{c.show}</td>
              <td className="num py-2.5 text-right">
                {c.seconds.toFixed(1)}
                <span className="block text-faint text-sm">{c.pause.toFixed(1)} silent</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <section className="mt-10">
        <h2 className="figure border-ink border-b pb-2 text-2xl">Chapters</h2>
        <p className="mt-2 text-soft">
          As WebVTT, to go with the video.
          {isPublic && (
            <>
              {' '}
              <a
                className="link"
                href={`/guides/${slug}.vtt?case=${of.viewingCase.key}&wpm=${pace}`}
                download
              >
                Save the file
              </a>
            </>
          )}
        </p>
        <pre className="mt-3 whitespace-pre-wrap border border-line p-4 text-sm">{chaptersVtt(sheet)}</pre>
      </section>
    </>
  )
}
