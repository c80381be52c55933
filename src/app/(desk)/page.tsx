import Link from 'next/link'
import { context } from '#server/base'
import { homeView, type UnitCard } from '#server/unit'
import { AddUnit, IntakeForm, KeepFresh, UnitRow } from '#ui/desk'
import { day, stepAt } from '#ui/static'
import { takeInAction } from './actions'

export const dynamic = 'force-dynamic'

export default async function HomePage() {
  const home = await homeView(context())
  const { bench, onBench } = home
  return (
    <div className="grid gap-12">
      <title>Wexmar</title>
      <section aria-labelledby="now" className="grid gap-8 lg:grid-cols-[1fr_20rem]">
        <div>
          <p className="text-faint">{!bench.ok && bench.none ? 'Your work' : 'On the bench now'}</p>
          {!bench.ok && bench.none ? (
            <WithoutBench newest={home.units[0]} />
          ) : !bench.ok ? (
            <>
              <h1 id="now" className="figure text-5xl">
                The bench does not answer
              </h1>
              <p className="mt-3 max-w-xl text-lg text-lamp">
                {bench.message} Everything read so far is kept. Start the bench or check its address, then
                load this page again.
              </p>
            </>
          ) : !bench.display ? (
            <>
              <h1 id="now" className="figure text-5xl">
                No display yet
              </h1>
              <p className="mt-3 max-w-xl text-lg text-soft">
                Put a display on the stand and load this page again.
              </p>
            </>
          ) : (
            <OnTheBench bench={bench} onBench={onBench} />
          )}
        </div>
        {bench.ok && <BenchFacts bench={bench} />}
      </section>

      {home.demo && <DemoData demo={home.demo} />}

      <Units home={home} />
      <Guides home={home} />
    </div>
  )
}

type Home = Awaited<ReturnType<typeof homeView>>
type ThereBench = Extract<Home['bench'], { ok: true }>

/** The display on the bench, where its work stands, and the way on. */
const OnTheBench = ({ bench, onBench }: { bench: ThereBench; onBench: Home['onBench'] }) => {
  const session = onBench?.session
  return (
    <>
      <h1 id="now" className="figure text-6xl leading-none">
        {bench.display}
        {onBench && <span className="font-light text-faint">, {onBench.label}</span>}
      </h1>
      <p className="mt-3 max-w-xl text-lg text-soft">
        {onBench
          ? session
            ? onBench.guide?.published
              ? `Calibrated for ${session.caseLabel}; its guide is published.`
              : `${session.caseLabel}, ${stepAt(session.at)}. It continues where it was left.`
            : 'Unpacked and warm. Nothing has been read from it yet.'
          : 'This unit is not known yet. Add it: its control sheet and firmware come from the bench.'}
      </p>
      {onBench && (
        <p className="mt-6">
          {session && !onBench.guide?.published ? (
            <Link className="button text-lg" href={`/sessions/${session.id}`}>
              Go on with {session.caseLabel}
            </Link>
          ) : session && onBench.guide ? (
            <a className="button text-lg" href={`/guides/${onBench.guide.slug}`}>
              Read its guide
            </a>
          ) : (
            <Link className="button text-lg" href={`/units/${onBench.id}`}>
              Begin with {onBench.label}
            </Link>
          )}
        </p>
      )}
      {!onBench && (
        <div className="mt-6 max-w-md">
          <IntakeForm action={takeInAction} panelKind={bench.panelKind} />
        </div>
      )}
    </>
  )
}

const BenchFacts = ({ bench }: { bench: ThereBench }) => (
  <dl className="rule-t grid h-fit grid-cols-[6rem_1fr] gap-y-1.5 pt-4 lg:border-t-0 lg:border-line lg:border-l lg:pt-0 lg:pl-8">
    <dt className="text-faint">Bench</dt>
    <dd>{bench.name}</dd>
    <dt className="text-faint">Meter</dt>
    <dd>{bench.meter ?? <span className="text-lamp">none</span>}</dd>
    <dt className="text-faint">Patterns</dt>
    <dd>{bench.pattern ?? <span className="text-lamp">none</span>}</dd>
    <dt className="text-faint">Serial</dt>
    <dd className="num text-sm leading-6">{bench.serial ?? '–'}</dd>
    <dt className="text-faint">Firmware</dt>
    <dd className="num text-sm leading-6">{bench.firmware ?? '–'}</dd>
  </dl>
)

const Units = ({ home }: { home: Home }) => (
  <section aria-labelledby="units">
    <h2 id="units" className="figure border-ink border-b pb-2 text-2xl">
      Units
    </h2>
    <div className="pt-3">
      <AddUnit />
    </div>
    {home.units.length === 0 ? (
      <p className="py-6 text-faint">No units yet.</p>
    ) : (
      <>
        <ul>
          {home.units.map((u) => (
            <UnitRow key={u.id} unit={u} />
          ))}
        </ul>
        {home.unitCount > home.units.length && (
          <p className="pt-4">
            <Link className="link" href="/units">
              All {home.unitCount} units
            </Link>
          </p>
        )}
      </>
    )}
  </section>
)

const Guides = ({ home }: { home: Home }) => (
  <section aria-labelledby="guides">
    <h2 id="guides" className="figure border-ink border-b pb-2 text-2xl">
      Published guides
    </h2>
    {home.guides.length === 0 ? (
      <p className="py-6 text-faint">None yet. A guide is composed at the end of a case.</p>
    ) : (
      <>
        <ul>
          {home.guides.map((g) => (
            <li key={g.slug} className="rule-b py-4">
              <a href={`/guides/${g.slug}`} className="text-lg font-semibold hover:underline">
                {g.title}
              </a>
              <p className="max-w-3xl text-soft">{g.summary}</p>
              <p className="text-sm text-faint">
                Revision {g.revision}, {day(g.publishedAt)}
              </p>
            </li>
          ))}
        </ul>
        {home.guideCount > home.guides.length && (
          <p className="pt-4">
            <a className="link" href="/guides">
              All {home.guideCount} guides
            </a>
          </p>
        )}
      </>
    )}
  </section>
)

const DEMO_STATE = { done: 'done', now: 'being measured', todo: 'to come' } as const

/** The demo data while they are made: what is there, what is being measured, what is to come. Nothing waits for them. */
const DemoData = ({ demo }: { demo: NonNullable<Awaited<ReturnType<typeof homeView>>['demo']> }) => {
  const done = demo.steps.filter((s) => s.state === 'done').length
  return (
    <section aria-labelledby="demo" data-demo={`${done}/${demo.steps.length}`}>
      <KeepFresh seconds={3} />
      <h2 id="demo" className="figure border-ink border-b pb-2 text-2xl">
        Demo data{' '}
        <span className="font-light text-faint">
          {done} of {demo.steps.length}
        </span>
      </h2>
      <p className="max-w-3xl pt-3 text-soft">
        Simulated displays are being calibrated in the background, each along the whole route. Nothing waits
        for them: the bench is yours, and everything works meanwhile.
      </p>
      <ul className="pt-2">
        {demo.steps.map((step) => (
          <li key={step.label} className="rule-b flex items-baseline gap-4 py-1.5">
            <span className={step.state === 'todo' ? 'flex-1 text-faint' : 'flex-1'}>
              {step.session && step.state === 'now' ? (
                <Link className="link" href={`/sessions/${step.session}`}>
                  {step.label}
                </Link>
              ) : (
                step.label
              )}
            </span>
            <span className={step.state === 'now' ? 'text-lamp' : 'text-faint'}>
              {DEMO_STATE[step.state]}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What comes first where there is no bench: a first display, or where the newest work stands. */
const WithoutBench = ({ newest }: { newest: UnitCard | undefined }) => {
  if (!newest)
    return (
      <>
        <h1 id="now" className="figure text-5xl">
          Begin with a display
        </h1>
        <p className="mt-3 max-w-xl text-lg text-soft">
          A remote, a meter and a browser are enough. Add the display, enter its menu once, and Wexmar gives
          each adjustment in its own words.
        </p>
        <p className="mt-6 flex flex-wrap gap-3">
          <Link className="button text-lg" href="/units/new">
            Add a display
          </Link>
          <Link className="button button-quiet text-lg" href="/equipment">
            Set up your equipment
          </Link>
        </p>
      </>
    )
  const { session, guide } = newest
  return (
    <>
      <h1 id="now" className="figure text-6xl leading-none">
        {newest.display}
        <span className="font-light text-faint">, {newest.label}</span>
      </h1>
      <p className="mt-3 max-w-xl text-lg text-soft">
        {session
          ? guide?.published
            ? `Calibrated for ${session.caseLabel}; its guide is published.`
            : `${session.caseLabel}, ${stepAt(session.at)}. It continues where it was left.`
          : 'Nothing has been read from it yet.'}
      </p>
      <p className="mt-6">
        {session && !guide?.published ? (
          <Link className="button text-lg" href={`/sessions/${session.id}`}>
            Go on with {session.caseLabel}
          </Link>
        ) : (
          <Link className="button text-lg" href={`/units/${newest.id}`}>
            {session ? 'Begin another case' : 'Begin a case'}
          </Link>
        )}
      </p>
    </>
  )
}
