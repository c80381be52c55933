import Link from 'next/link'
import { notFound } from 'next/navigation'
import { idOf } from '#app/params'
import { fieldsOf } from '#core/guide/document'
import { settingRows } from '#core/guide/formats'
import { heavy } from '#server/background'
import { context } from '#server/base'
import { Trail } from '#ui/desk'
import { DifferencesTable } from '#ui/guide'
import { WordsDesk } from '#ui/guide-desk'
import { saveWordsAction } from '../../../guide-actions'

import {
  CaseWords,
  DraftStatus,
  DraftWords,
  Findings,
  OnPhone,
  Publishing,
  ReaderReports,
  Reviews,
  Revisions,
  Sections,
} from './parts'

export const dynamic = 'force-dynamic'

export default async function GuideDeskPage({ params }: { params: Promise<{ id: string }> }) {
  const id = idOf((await params).id)
  const draft = id ? await heavy.guideDraft(context(), id) : undefined
  if (!draft) notFound()
  const { document, plain } = draft
  const { maker, model, sizeInch } = document.display
  const [newest] = draft.revisions
  return (
    <WordsDesk
      guideId={draft.id}
      words={draft.words}
      fields={fieldsOf(plain)}
      save={saveWordsAction.bind(null, draft.id)}
      plainDigest={draft.plainDigest}
    >
      <title>{`${document.title}, draft · Wexmar`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: '/desk/guides', text: 'Guides' },
          { href: `/desk/guides/${draft.id}`, text: `${maker} ${model} ${sizeInch}` },
        ]}
      />
      <h1 className="figure text-5xl">
        {maker} {model} {sizeInch} <span className="font-light text-faint">guide</span>
      </h1>
      <DraftStatus draft={draft} />
      <div className="mt-8 grid gap-x-14 gap-y-10 lg:grid-cols-[24rem_minmax(0,1fr)]">
        <div>
          <DraftWords plain={plain} />
          <Publishing draft={draft} />
          {!draft.published && <Reviews draft={draft} />}
          <Findings draft={draft} />
          {draft.reports.length > 0 && <ReaderReports reports={draft.reports} />}
          {draft.revisions.length > 0 && <Revisions draft={draft} />}
        </div>
        <div>
          <Sections draft={draft} />
          <p className="mt-4">
            <Link className="link" href={`/desk/guides/${draft.id}/cues`}>
              Cue sheet for a video
            </Link>
          </p>
          {newest && !draft.withdrawn && <OnPhone slug={draft.slug} />}
          {draft.differences && !draft.published && (
            <section className="mt-10">
              <h2 className="figure border-ink border-b pb-2 text-2xl">
                Against what is public{' '}
                <span className="font-light text-faint">revision {newest?.number}</span>
              </h2>
              <DifferencesTable differences={draft.differences} />
            </section>
          )}
          {plain.cases.map((c) => (
            <CaseWords key={c.viewingCase.key} document={c} rows={settingRows(document, c.viewingCase.key)} />
          ))}
        </div>
      </div>
    </WordsDesk>
  )
}
