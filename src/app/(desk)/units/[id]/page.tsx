import Image from 'next/image'
import Link from 'next/link'
import { notFound } from 'next/navigation'
import { idOf, listWish } from '#app/params'
import { PANEL_LABEL } from '#core/entry'
import { isHdr } from '#core/judge'
import { context } from '#server/base'
import { type UnitView, unitView } from '#server/unit'
import { ActionButton, BeginForm, LineButton, NoteForm, Trail } from '#ui/desk'
import { day, Pager, stepAt } from '#ui/static'
import {
  archiveAction,
  beginAction,
  deleteNoteAction,
  deleteSessionAction,
  noteAction,
  putOnStandAction,
} from '../../actions'

export const dynamic = 'force-dynamic'

type Props = {
  params: Promise<{ id: string }>
  searchParams: Promise<Record<string, string | string[] | undefined>>
}

export default async function UnitPage({ params, searchParams }: Props) {
  const id = idOf((await params).id)
  const { page } = listWish(await searchParams)
  const unit = id ? await unitView(context(), id, page) : undefined
  if (!unit) notFound()
  const { card } = unit
  return (
    <>
      <title>{`${card.display}, ${card.label} · Wexmar`}</title>
      <Trail
        links={[
          { href: '/', text: 'Bench' },
          { href: `/models/${card.modelSlug}`, text: card.display.replace(/ \d+$/, '') },
        ]}
      />
      <h1 className="figure text-5xl">
        {card.display}
        <span className="font-light text-faint">, {card.label}</span>
      </h1>
      <div className="mt-8 grid gap-x-16 gap-y-10 lg:grid-cols-[1fr_30rem]">
        <div>
          <About unit={unit} />
          <Sessions unit={unit} />
          <Pager at={unit.listed} href={(page) => `/units/${card.id}?page=${page}`} what="sessions" />
          <Notes unit={unit} />
        </div>
        <BeginCase unit={unit} />
      </div>
    </>
  )
}

/** What is known of a unit, and where more of it is. */
const About = ({ unit }: { unit: UnitView }) => {
  const { card } = unit
  return (
    <>
      <dl className="grid grid-cols-[7rem_1fr] gap-y-1.5">
        <dt className="text-faint">Serial</dt>
        <dd className="num text-sm leading-6">{card.serial}</dd>
        <dt className="text-faint">Size, region</dt>
        <dd>
          {unit.sizeInch} inch, {unit.region}
        </dd>
        <dt className="text-faint">Panel</dt>
        <dd>{unit.panelKind}</dd>
        <dt className="text-faint">Came from</dt>
        <dd>{card.origin}</dd>
        <dt className="text-faint">Goes back</dt>
        <dd>{card.returnsOn ? day(card.returnsOn) : 'stays'}</dd>
        <dt className="text-faint">Hours</dt>
        <dd>{unit.hours === null ? 'not known' : `${unit.hours} h at intake`}</dd>
        <dt className="text-faint">Firmware</dt>
        <dd>
          {unit.firmwares.map((f) => (
            <span key={f.version} className="block">
              <span className="num text-sm">{f.version}</span>{' '}
              <span className="text-faint">seen {day(f.seenAt)}</span>
            </span>
          ))}
        </dd>
        {unit.hasBench && (
          <>
            <dt className="text-faint">Bench</dt>
            <dd className={unit.bench.ok ? '' : 'text-lamp'}>{unit.bench.message}</dd>
          </>
        )}
      </dl>
      <p className="mt-5 flex flex-wrap gap-x-6 gap-y-1">
        <Link className="link" href={`/evidence?unit=${card.id}`}>
          Evidence of this unit
        </Link>
        {unit.panelKind === PANEL_LABEL.projector && (
          <Link className="link" href={`/units/${card.id}/screen`}>
            Light on its screen
          </Link>
        )}
        <a className="link" href={`/units/${card.id}/archive`}>
          Save everything as an archive
        </a>
      </p>
    </>
  )
}

/** Notes and photos of a unit. */
const Notes = ({ unit }: { unit: UnitView }) => {
  const { card } = unit
  return (
    <>
      <h2 className="figure mt-10 border-ink border-b pb-2 text-2xl">Notes</h2>
      <ul>
        {unit.notes.map((n) => (
          <li key={n.id} className="rule-b py-2.5">
            {n.text && <p className="whitespace-pre-line">{n.text}</p>}
            {n.photo && (
              <a href={`/api/photos/${n.photo.id}`} className="my-1.5 block w-fit">
                <Image
                  unoptimized
                  src={`/api/photos/${n.photo.id}`}
                  width={n.photo.width}
                  height={n.photo.height}
                  loading="lazy"
                  alt={n.text ? `Photo: ${n.text}` : `Photo of ${day(n.at)}`}
                  className="h-auto max-h-60 w-auto max-w-full border border-line"
                />
              </a>
            )}
            <p className="flex flex-wrap gap-x-4 text-sm text-faint">
              <span>
                {day(n.at)}
                {n.where && `, ${n.where}`}
              </span>
              <LineButton
                action={deleteNoteAction.bind(null, card.id, n.id)}
                label="Delete"
                asks="Delete for good"
                of={`note of ${day(n.at)}`}
              />
            </p>
          </li>
        ))}
      </ul>
      <div className="mt-3">
        <NoteForm unit={card.id} action={noteAction.bind(null, card.id)} />
      </div>
    </>
  )
}

/** Sessions of a unit; those that were archived are folded. */
const Sessions = ({ unit }: { unit: UnitView }) => {
  return (
    <>
      <h2 className="figure mt-10 border-ink border-b pb-2 text-2xl">Sessions</h2>
      {unit.sessions.length === 0 ? (
        <p className="py-5 text-faint">
          None yet. Wexmar gives each adjustment in clicks of this display’s own menu.
        </p>
      ) : (
        <>
          <SessionList sessions={unit.sessions.filter((s) => !s.archived)} />
          {unit.sessions.some((s) => s.archived) && (
            <details className="mt-3">
              <summary className="text-soft">
                Archived ({unit.sessions.filter((s) => s.archived).length})
              </summary>
              <SessionList sessions={unit.sessions.filter((s) => s.archived)} />
            </details>
          )}
        </>
      )}
    </>
  )
}

/** The way into a new case: place the unit, enter its menu, or begin. */
const BeginCase = ({ unit }: { unit: UnitView }) => {
  const { card } = unit
  return (
    <section className="h-fit border border-line p-6" aria-labelledby="begin">
      <h2 id="begin" className="figure mb-4 text-2xl">
        Begin a viewing case
      </h2>
      {!unit.bench.ok && unit.bench.simulated && (
        <div className="rule-b mb-5 pb-5">
          <p className="mb-3 text-lamp">{unit.bench.message}</p>
          <ActionButton
            action={putOnStandAction.bind(null, card.serial)}
            label={`Put ${card.label} on the stand`}
          />
        </div>
      )}
      {unit.hasSheet ? (
        <BeginForm
          action={beginAction.bind(null, card.id)}
          modes={unit.modes}
          policies={unit.policies}
          begun={unit.begun}
          open={unit.open}
          equipment={unit.equipment}
          hasBench={unit.hasBench}
          effort={unit.effort}
        />
      ) : (
        <>
          <p className="mb-4 text-soft">
            Nothing is known of this model’s menu yet. Enter it once; every unit of the model uses it.
          </p>
          <Link className="button" href={`/models/${card.modelSlug}/sheet`}>
            Enter its menu
          </Link>
        </>
      )}
    </section>
  )
}

/** Sessions of a unit, with what can be done with each. */
const SessionList = ({ sessions }: { sessions: UnitView['sessions'] }) => (
  <ul>
    {sessions.map((s) => (
      <li key={s.id} className="rule-b flex flex-wrap items-baseline gap-x-6 gap-y-1 py-3">
        <Link href={`/sessions/${s.id}`} className="text-lg font-semibold hover:underline">
          {s.caseLabel}
        </Link>
        <span className="text-soft">
          {s.baseMode ? `“${s.baseMode}”, ` : ''}
          {!isHdr(s.viewingCase) && `${s.luminance} cd/m², `}
          {s.readings} readings
        </span>
        <span className="text-faint">{day(s.createdAt)}</span>
        <span className="ml-auto flex flex-wrap items-baseline gap-4">
          <Link className="link" href={`/sessions/${s.id}/files`}>
            Files
          </Link>
          <Link className="link" href={`/sessions/${s.id}/entered`}>
            By hand
          </Link>
          {s.readings === 0 && !s.guideSlug && (
            <Link className="link" href={`/sessions/${s.id}/guide`}>
              Guide by eye
            </Link>
          )}
          {s.guideSlug ? (
            <a className="link" href={`/guides/${s.guideSlug}`}>
              Its guide
            </a>
          ) : (
            <span className="text-soft">{stepAt(s.at)}</span>
          )}
          {s.empty ? (
            <LineButton
              action={deleteSessionAction.bind(null, s.id)}
              label="Delete"
              of={`${s.caseLabel} of ${day(s.createdAt)}`}
            />
          ) : (
            <LineButton
              action={archiveAction.bind(null, s.id, !s.archived)}
              label={s.archived ? 'Take back' : 'Archive'}
              of={`${s.caseLabel} of ${day(s.createdAt)}`}
            />
          )}
        </span>
      </li>
    ))}
  </ul>
)
