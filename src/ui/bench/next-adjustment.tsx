import { Fragment, type ReactNode } from 'react'
import { sayWhole } from '#core/measure'
import type { NextView, SessionView } from '#server/view'
import { duration, LocalTime } from '#ui/desk'
import {
  type BenchEvent,
  type BenchState,
  markedDepth,
  markedMapping,
  markedMode,
  triedValue,
} from './bench-state'
import { ChangeLine, ChangeSheet, commonPath, MOST_LARGE, Path, sizeFor } from './change'
import { ChooseMapping } from './choose-mapping'
import { ConfirmValues } from './confirm-values'
import { DEPTH_LABEL } from './key-table'
import { SurveyMatrix } from './survey'
import type { Send } from './use-session'
import { Look } from './visual-check'

type Of<K extends NextView['kind']> = Extract<NextView, { kind: K }>

const Above = ({ children }: { children: ReactNode }) => <p className="text-soft">{children}</p>
const takes = (seconds: number | undefined) =>
  seconds ? `Takes about ${duration(seconds)}.` : 'Takes well under a minute here.'

interface Props {
  readonly view: SessionView
  readonly state: BenchState
  readonly dispatch: (event: BenchEvent) => void
  readonly send: Send
}

/** The next adjustment, and nothing else: what to press, what it will do, and what to beware of. */
export const NextAdjustment = (props: Props) => (
  <>
    <NextThing {...props} />
    {props.view.cautions.map((c) => (
      <p key={c} className="max-w-3xl text-sm text-soft">
        {c}
      </p>
    ))}
  </>
)

const NextThing = ({ view, state, dispatch, send }: Props) => {
  const { next } = view
  switch (next.kind) {
    case 'prepare':
      return <Prepare next={next} />
    case 'sweep':
      return <Sweep next={next} />
    case 'survey':
      return <Survey next={next} />
    case 'tour':
      return <Tour next={next} />
    case 'choose-flashes':
      return <ChooseFlashes />
    case 'choose-mode':
      return (
        <ChooseMode
          view={view}
          chosen={markedMode(view, state)}
          onChoose={(mode) => dispatch({ type: 'mark', mode })}
        />
      )
    case 'choose-depth':
      return (
        <ChooseDepth
          next={next}
          chosen={markedDepth(view, state)}
          onChoose={(depth) => dispatch({ type: 'mark-depth', depth })}
        />
      )
    case 'choose-mapping':
      return (
        <ChooseMapping
          next={next}
          options={view.findings.mappings?.options ?? []}
          marked={markedMapping(view, state)}
          onMark={(value) => dispatch({ type: 'mark-mapping', value })}
        />
      )
    case 'choose-green':
      return <ChooseGreen next={next} />
    case 'restore':
      return <Restore next={next} />
    case 'confirm-values':
      return (
        <ConfirmValues
          next={next}
          shown={state.shown}
          onShown={(control, text) => dispatch({ type: 'shown', control, text })}
        />
      )
    case 'adjust':
      return <Adjustment next={next} />
    case 'unexpected-reading':
      return <UnexpectedReading next={next} />
    case 'visual-check':
      return (
        <Look
          look={next.look}
          session={view.id}
          value={triedValue(view, state)}
          onValue={(value) => dispatch({ type: 'try', question: next.look.question, value })}
          onAnswer={(answer) =>
            void send({
              type: 'visual-check',
              question: next.look.question,
              answer,
              value: null,
              conditions: state.conditions,
            })
          }
        />
      )
    case 'worse':
      return <Worse next={next} />
    case 'feed-fault':
      return <FeedFault next={next} />
    case 'compose':
      return <Finish view={view} />
  }
}

const FLASH_CAUTION =
  'The screen flashes white twice a second while the probe looks. Flashing light can bring on seizures in photosensitive people: anyone who may be photosensitive should not look at the screen, and no one has to. P pauses after the flashes that were begun, six seconds at most.'

/** Settings that are gone round in one go. */
const Tour = ({ next }: { next: Of<'tour'> }) => (
  <>
    <Above>
      {[
        next.settings > 0 ? `${next.settings} settings` : '',
        next.probes > 0 ? `${next.probes} looks of the latency probe` : '',
        next.patches > 0 ? `${next.patches} patches` : '',
      ]
        .filter(Boolean)
        .join(', ')}
    </Above>
    <h1 className="figure text-5xl">
      <span className="text-lamp">{next.title}</span>
    </h1>
    <p className="text-lg text-soft">
      {next.step === 'latency'
        ? 'What claims to shorten the delay is tried separately, at every rate that the source sends; what helps is left on.'
        : 'The display stays as it is now.'}{' '}
      {takes(next.seconds ? next.seconds + 6 * next.probes : 6 * next.probes)}
    </p>
    {next.probes > 0 && <p className="max-w-3xl text-sm text-soft">{FLASH_CAUTION}</p>}
  </>
)

const ChooseFlashes = () => (
  <>
    <Above>Latency is measured with flashes</Above>
    <h1 className="figure text-5xl">
      May the screen <span className="text-lamp">flash</span>?
    </h1>
    <p className="max-w-3xl text-lg">{FLASH_CAUTION}</p>
    <p className="text-soft">
      Without it latency is not measured, and what shortens it is set as the sheet says.
    </p>
  </>
)

const Expectation = ({ next }: { next: Of<'adjust'> }) => {
  const { expected } = next
  const light = expected?.quantity === 'luminance'
  const digits = light ? 0 : 1
  const unit = light ? ' cd/m²' : ''
  const name =
    expected?.quantity === 'luminance'
      ? 'White'
      : expected?.quantity === 'colour-error'
        ? 'Average colour error, ΔE00'
        : expected?.quantity === 'tone'
          ? 'Gamma'
          : 'Average greyscale ΔE00'
  const reads = next.reads.length > 8 ? `${next.reads.length} patches` : next.reads.join(', ')
  return (
    <p className="text-lg">
      {next.purpose}{' '}
      <span className="text-soft">
        {expected && (
          <>
            {name}: {expected.before.toFixed(digits)}
            {unit} now,{' '}
            <strong className="text-ink">
              {expected.after.toFixed(digits)} ± {Math.max(expected.sigma, light ? 1 : 0.1).toFixed(digits)}
              {unit}
            </strong>{' '}
            expected.{' '}
          </>
        )}
        {next.reads.length > 0 && `${next.changes.length > 0 ? 'Then reads' : 'Reads'} ${reads}.`}
        {next.seconds !== undefined && next.seconds > 20 ? ` ${takes(next.seconds)}` : ''}
      </span>
    </p>
  )
}

const Adjustment = ({ next }: { next: Of<'adjust'> }) => {
  const { changes } = next
  const cautions = [...new Set(changes.flatMap((c) => c.caution ?? []))]
  const memories = [...new Set(changes.map((c) => c.memory))]
  return (
    <>
      {changes.length === 0 ? (
        <>
          <Above>Nothing to set</Above>
          <h1 className="figure text-6xl">
            Read{' '}
            <span className="font-normal text-lamp">
              {next.reads.length} {next.reads.length === 1 ? 'patch' : 'patches'}
            </span>
          </h1>
        </>
      ) : changes.length > MOST_LARGE ? (
        <>
          <Path path={commonPath(changes)} />
          <h1 className="figure text-5xl">
            {changes.length} values{' '}
            <span className="text-2xl font-normal text-soft">in the order of the menu</span>
          </h1>
          <ChangeSheet changes={changes} />
        </>
      ) : (
        <>
          <Path path={commonPath(changes)} />
          <h1 className={`grid gap-x-10 gap-y-1 ${changes.length > 2 ? 'md:grid-cols-2' : ''}`}>
            {changes.map((c) => (
              <ChangeLine
                key={c.control}
                change={c}
                size={sizeFor(changes.length)}
                page={c.path.slice(commonPath(changes).length).join(' › ')}
              />
            ))}
          </h1>
        </>
      )}
      <Expectation next={next} />
      <Price next={next} />
      {next.shared.map((s) => (
        <p key={s} className="flex gap-3 text-sm text-lamp">
          <span aria-hidden="true" className="mt-1.5 size-2 shrink-0 border border-lamp" />
          {s}
        </p>
      ))}
      {changes.length > 0 && (
        <p className="text-sm text-faint">
          {cautions.map((c) => (
            <span key={c} className="text-soft">
              {c}{' '}
            </span>
          ))}
          {memories.length < 3 ? memories.join(' ') : ''}
        </p>
      )}
    </>
  )
}

/** What an adjustment costs with the remote, and what it gains for that. */
const Price = ({ next }: { next: Of<'adjust'> }) => {
  const { cost, expected } = next
  if (cost.values === 0) return null
  const minutes = cost.seconds === undefined ? undefined : cost.seconds / 60
  const gain =
    expected && expected.quantity !== 'luminance' && expected.quantity !== 'tone'
      ? expected.before - expected.after
      : undefined
  return (
    <p className="text-soft">
      <span className="num">{cost.values}</span> {cost.values === 1 ? 'value' : 'values'},{' '}
      <span className="num">{cost.clicks}</span> {cost.clicks === 1 ? 'click' : 'clicks'}
      {cost.seconds !== undefined && `, about ${duration(cost.seconds)} with the remote`}
      {minutes !== undefined && minutes > 0.5 && gain !== undefined && gain > 0 && (
        <>
          : ΔE00 <span className="num">{(gain / minutes).toFixed(2)}</span> a minute
        </>
      )}
      .
    </p>
  )
}

/** How far multi-point white balance goes: what each depth reaches and what it costs. */
const ChooseDepth = ({
  next,
  chosen,
  onChoose,
}: {
  next: Of<'choose-depth'>
  chosen: Of<'choose-depth'>['proposed']
  onChoose: (depth: Of<'choose-depth'>['proposed']) => void
}) => {
  const first = next.options[0]?.error ?? 0
  return (
    <>
      <Above>Multi-point white balance</Above>
      <h1 className="figure text-4xl">
        How far: <span className="text-lamp">{DEPTH_LABEL[chosen].toLowerCase()}</span>
      </h1>
      <table className="quiet-table max-w-3xl">
        <caption className="sr-only">Depths, what they reach and what they cost</caption>
        <thead>
          <tr>
            <th scope="col">Depth</th>
            <th scope="col" className="n">
              <span className="max-sm:sr-only">Average greyscale </span>ΔE00
            </th>
            <th scope="col" className="n">
              Values
            </th>
            <th scope="col" className="n max-sm:hidden">
              Clicks
            </th>
            {next.worth !== null && (
              <>
                <th scope="col" className="n">
                  <span className="max-sm:sr-only">With the </span>
                  <span className="max-sm:capitalize">remote</span>
                </th>
                <th scope="col" className="n max-sm:hidden">
                  Gain a minute
                </th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {next.options.map(({ depth, error, cost }, i) => (
            <tr key={depth} aria-current={depth === chosen || undefined}>
              <th scope="row">
                <button
                  type="button"
                  className={`flex min-h-11 items-center gap-2 text-left ${depth === chosen ? 'font-bold text-lamp' : 'text-ink'}`}
                  aria-pressed={depth === chosen}
                  onClick={() => onChoose(depth)}
                >
                  <span className="key shrink-0">{i + 1}</span>
                  <span>
                    {DEPTH_LABEL[depth]}
                    {depth === next.proposed && <span className="font-normal text-soft"> · proposed</span>}
                  </span>
                </button>
              </th>
              <td className="n">{error.toFixed(2)}</td>
              <td className="n">{cost.values}</td>
              <td className="n max-sm:hidden">{cost.clicks}</td>
              {next.worth !== null && (
                <>
                  <td className="n">{cost.values === 0 ? '–' : duration(cost.seconds ?? 0)}</td>
                  <td className="n max-sm:hidden">
                    {cost.values === 0 || !cost.seconds
                      ? '–'
                      : ((60 * (first - error)) / cost.seconds).toFixed(2)}
                  </td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="max-w-3xl text-soft">
        {next.worth === null
          ? 'The bench sets the values; fewer of them are fewer for readers to copy.'
          : `By the policy a minute has to gain ΔE00 ${next.worth}. Side by side, hardly anyone sees a difference below ΔE00 1.`}
      </p>
    </>
  )
}

const ChooseGreen = ({ next }: { next: Of<'choose-green'> }) => {
  const [without, moved] = [next.without, next.with].map((error) => (
    <strong key={error} className="num">
      {error.toFixed(1)}
    </strong>
  ))
  return (
    <>
      <Above>The policy “{next.policy}” leaves green alone</Above>
      <h1 className="figure text-5xl">
        Adjust <span className="text-lamp">green</span> here?
      </h1>
      <p className="max-w-3xl text-lg">
        {next.reason === 'ran-out' ? (
          <>
            Red or blue cannot go any further up. With green left alone, the worst level stays at ΔE00{' '}
            {without}; with the other channels brought down to it, {moved}.
          </>
        ) : (
          <>
            Red and blue have done what they can: greys average ΔE00 {without}. With green adjusted as well,{' '}
            {moved}.
          </>
        )}
      </p>
      <p className="text-soft">
        {next.light > 0.005
          ? `White loses about ${(100 * next.light).toFixed(0)} % of its light, which the luminance control makes up for as far as it reaches. `
          : 'White keeps its light. '}
        The guide says that green was moved, and why.
      </p>
    </>
  )
}

const PREPARE = [
  'Protective film is off, the screen is clean, the room is dark.',
  'The meter is aimed at the middle, square to the screen.',
  'The display has been on for 45 minutes or more; the strip on top says how long.',
]

const Prepare = ({ next }: { next: Of<'prepare'> }) => (
  <>
    <Above>{next.first ? 'Before anything is read' : 'Before it is read again'}</Above>
    <h1 className="figure text-5xl">
      {next.baseMode
        ? `Prepare “${next.baseMode}”`
        : next.first
          ? 'Prepare the display'
          : 'Turn off automatic processing'}
    </h1>
    {next.first && (
      <ul className="grid gap-1">
        {PREPARE.map((line) => (
          <li key={line} className="flex gap-3">
            <span aria-hidden="true" className="text-faint">
              –
            </span>
            {line}
          </li>
        ))}
      </ul>
    )}
    <p className="text-soft">
      {next.switchesOff ? (
        <>
          {next.reset ? 'Then this mode is reset, and automatic' : 'Automatic'} picture processing is turned
          off for measuring
          {next.changes.length > 0 && ': '}
          <ChangeList changes={next.changes} />.
        </>
      ) : (
        'Nothing is reset: other cases keep values in this display. What each check turns off is put back after it.'
      )}
    </p>
    {next.first && (
      <p className="max-w-2xl text-sm text-faint">
        Lift a large display with two people, on a stand or wall mount made for its weight; never open it.
        Late at night, rest your eyes between sweeps. The maker’s instructions and local rules come first.
      </p>
    )}
  </>
)

/** Changes in one line of text, as the menu shows them. */
const ChangeList = ({ changes }: { changes: Of<'sweep'>['changes'] }) =>
  changes.map((c, i) => (
    <Fragment key={c.control}>
      {i > 0 && ', '}
      <span className="whitespace-nowrap text-ink">
        {c.label} {c.from} → <strong className="text-lamp">{c.to}</strong>
      </span>
    </Fragment>
  ))

const Restore = ({ next }: { next: Of<'restore'> }) => (
  <>
    <Above>{next.movedBy ? `${next.movedBy} moved this display` : 'The display holds other values'}</Above>
    <h1 className="figure text-5xl">
      Set{' '}
      <span className="font-normal text-lamp">
        {next.changes.length} {next.changes.length === 1 ? 'value' : 'values'}
      </span>{' '}
      again
    </h1>
    <p className="text-lg">
      {next.movedBy
        ? 'Another case of this unit has changed settings that this case rests on.'
        : 'Settings that this case rests on are not as it left them.'}{' '}
      They are set again before anything is read.
    </p>
    <ChangeSheet changes={next.changes} />
  </>
)

const SWEEP = {
  'feed-check': {
    above: 'Before anything is measured',
    title: 'Check the signal',
    text: 'A few patches that tell a wrong range, transfer curve, colour space or picture size from a right one.',
  },
  'out-of-box': {
    above: 'Out of the box',
    title: 'Default sweep',
    text: 'Greyscale, primaries, secondaries and memory colours, before any adjustment. Every result is compared with this.',
  },
  verify: {
    above: 'Before the guide',
    title: 'Final verification',
    text: 'The same patches again with the final settings, to compare before and after.',
  },
} as const

/** Sweeps of HDR, in the final settings. */
const ABOUT = {
  eotf: {
    above: 'HDR in its final settings',
    title: 'EOTF tracking',
    text: 'Greys from 0.05 to 10,000 cd/m²: where the display leaves PQ, and where detail ends.',
  },
  scenes: {
    above: 'HDR in its final settings',
    title: 'Scenes',
    text: 'The same greys alone and beside a highlight: whether tone mapping follows the scene.',
  },
  mastering: {
    above: 'HDR in its final settings',
    title: 'Mastering peaks',
    text: 'The same greys flagged as mastered at 1,000 and at 10,000 cd/m²: what the display makes of each.',
  },
  peak: {
    above: 'HDR in its final settings',
    title: 'Peak by window',
    text: 'White in several windows, in its first second after half a minute of black, and after a minute.',
  },
  refresh: {
    above: 'In the final settings',
    title: 'Variable refresh',
    text: 'Greys near black and in the middle at several rates: whether light changes where the frame rate jumps.',
  },
  uniformity: {
    above: 'In the final settings',
    title: 'Uniformity',
    text: 'The same grey in twenty-five places: how light and colour differ over the screen.',
  },
} as const

const Sweep = ({ next }: { next: Of<'sweep'> }) => {
  const { above, title, text } = next.about ? ABOUT[next.about] : SWEEP[next.purpose]
  return (
    <>
      <Above>{above}</Above>
      <h1 className="flex flex-wrap items-baseline gap-x-5">
        <span className="figure text-6xl">{title}</span>
        <span className="figure text-5xl font-normal text-lamp">
          {next.patches} {next.patches === 1 ? 'patch' : 'patches'}
        </span>
      </h1>
      <p className="text-lg">
        {next.rest && !next.about ? 'The patches that are still missing.' : text}{' '}
        <span className="text-soft">{takes(next.seconds)}</span>
      </p>
      {next.changes.length > 0 && (
        <p className="text-soft">
          First set: <ChangeList changes={next.changes} />.
        </p>
      )}
      {next.about === 'peak' && (
        <p className="max-w-2xl text-lamp">
          The whole screen becomes very bright. Do not look into it; anyone sensitive to light should leave
          the room. Self-emissive panels keep images of still patterns: each window is followed by black. P
          pauses, and black comes at once.
        </p>
      )}
    </>
  )
}

const Survey = ({ next }: { next: Of<'survey'> }) => (
  <>
    <Above>Which mode to start from</Above>
    <h1 className="flex flex-wrap items-baseline gap-x-5">
      <span className="figure text-6xl">Survey</span>
      <span className="figure text-5xl font-normal text-lamp">
        {next.modes.length} {next.modes.length === 1 ? 'mode' : 'modes'}, {next.patches} patches
      </span>
    </h1>
    <p className="text-lg">
      Reads {next.modes.map((m) => `“${m}”`).join(', ')} with a short sweep each
      {next.latency ? ' and its latency' : ''}, with automatic picture processing turned off.{' '}
      <span className="text-soft">{takes(next.seconds)}</span>
    </p>
    <p className="text-sm text-faint">
      Know the mode already? Choose it with <span className="key">M</span> and go on without a survey.
    </p>
  </>
)

const ChooseMode = ({
  view,
  chosen,
  onChoose,
}: {
  view: SessionView
  chosen: string
  onChoose: (mode: string) => void
}) => (
  <>
    <Above>Which mode to start from</Above>
    <h1 className="figure text-4xl">
      Take{' '}
      <span className="text-lamp">
        “{view.findings.survey.find((m) => m.mode === chosen)?.label ?? 'one of them'}”
      </span>
    </h1>
    <SurveyMatrix rows={view.findings.survey} chosen={chosen} onChoose={onChoose} />
    <p className="min-h-12 text-soft">
      {view.findings.survey.find((m) => m.mode === chosen)?.reasons.join(' ')}
    </p>
  </>
)

const UnexpectedReading = ({ next }: { next: Of<'unexpected-reading'> }) => (
  <>
    <Above>Not as expected</Above>
    <h1 className="figure text-5xl text-lamp">Check the display before you continue</h1>
    <p className="text-lg">{next.sentence}</p>
    <ul className="flex flex-wrap gap-x-8 gap-y-1">
      {next.changes.slice(0, MOST_LARGE).map((c) => (
        <li key={c.control}>
          {c.label}: <span className="text-soft">the menu should show</span>{' '}
          <strong className="figure text-2xl">{c.to}</strong>
        </li>
      ))}
    </ul>
    <p className="text-soft">
      If it does, read {next.patch} once more. If it shows something else, say so: the readings are then moved
      to the value that was set.
    </p>
  </>
)

const Worse = ({ next }: { next: Of<'worse'> }) => (
  <>
    <Above>Compared with out of the box</Above>
    <h1 className="figure text-5xl text-lamp">
      {next.worse.length === 1 ? 'One result got worse' : 'Some results got worse'}
    </h1>
    <ul className="grid gap-2 text-lg">
      {next.worse.map((w) => (
        <li key={w.key} className="flex gap-3">
          <span aria-hidden="true" className="mt-2.5 size-2 shrink-0 border border-lamp" />
          {w.sentence}
        </li>
      ))}
    </ul>
    <p className="text-soft">
      {next.putBack
        ? `Restoring ${next.putBack.step} to its defaults (${next.putBack.controls} ${next.putBack.controls === 1 ? 'value' : 'values'}) should fix ${next.worse.length === 1 ? 'this' : 'the first'}; the verification is read again.`
        : next.colour && !next.others
          ? ''
          : 'No setting that was changed would undo this: it is what the target costs on this display.'}{' '}
      If you accept it, the guide says so.
    </p>
    {next.colour && <p className="text-soft">{next.colour}</p>}
  </>
)

const FeedFault = ({ next }: { next: Of<'feed-fault'> }) => (
  <>
    <Above>Signal check</Above>
    <h1 className="figure text-5xl text-lamp">Signal mismatch</h1>
    <ul className="grid gap-2 text-lg">
      {next.findings.map((f) => (
        <li key={f} className="flex gap-3">
          <span aria-hidden="true" className="mt-2.5 size-2 shrink-0 border border-lamp" />
          {f}
        </li>
      ))}
    </ul>
    <p className="text-soft">
      Readings taken on a wrong signal are worthless. Fix it and check again, or skip this step if you are
      sure it is right.
    </p>
  </>
)

/** Changed settings of a case that are named. */
const MOST_STRAYED = 4

/** What the display holds for each case that is in its guide, once this one is done. */
const CasesOfDisplay = ({ view }: { view: SessionView }) => (
  <section className="grid gap-1.5" aria-label="Cases of this display in the guide">
    <h2 className="font-semibold">What this display holds for its guide</h2>
    <ul className="grid gap-1">
      {view.cases.map((c) => (
        <li key={c.session} className={c.changes.length ? 'text-lamp' : 'text-soft'}>
          {c.session === view.id ? (
            c.label
          ) : (
            <a className="link" href={`/sessions/${c.session}`}>
              {c.label}
            </a>
          )}
          {': '}
          {c.changes.length > 0
            ? `changed since: ${c.changes
                .slice(0, MOST_STRAYED)
                .map((change) => `${change.name} is ${change.from}, was ${change.to}`)
                .join(
                  '; ',
                )}${c.changes.length > MOST_STRAYED ? `; and ${c.changes.length - MOST_STRAYED} more` : ''}. Its page sets ${c.changes.length === 1 ? 'it' : 'them'} back.`
            : c.reading
              ? 'being read back.'
              : c.unseen > 0
                ? `${c.unseen} ${c.unseen === 1 ? 'value' : 'values'} to check against the menu, on its page.`
                : c.readBackAt
                  ? 'as it was left, read back '
                  : 'as it was left, as far as Wexmar has seen.'}
          {c.changes.length === 0 && !c.reading && c.unseen === 0 && c.readBackAt && (
            <>
              <LocalTime at={c.readBackAt} />.
            </>
          )}
        </li>
      ))}
    </ul>
  </section>
)

const Finish = ({ view }: { view: SessionView }) => {
  const before = view.factory?.verdict
  const after = view.after?.verdict
  const improved = before && after && after.whiteError.average < before.whiteError.average
  return (
    <>
      <Above>{view.guide?.published ? 'The guide is published.' : 'All steps are done.'}</Above>
      <h1 className="figure text-5xl">
        {!before || !after ? (
          'Before and after'
        ) : (
          <>
            Greyscale ΔE{' '}
            <span className="font-normal text-faint">{before.whiteError.average.toFixed(1)}</span>{' '}
            <span className="sr-only">to</span>
            <span className="text-lamp">{after.whiteError.average.toFixed(1)}</span>
            <span className="text-3xl font-normal text-soft">
              {view.findings.hdr?.knee ? (
                `, follows PQ up to ${Math.round(view.findings.hdr.knee).toLocaleString('en-GB')} cd/m²`
              ) : (
                <>
                  , white {sayWhole(before.white.luminance)} → {sayWhole(after.white.luminance)} cd/m²
                </>
              )}
            </span>
          </>
        )}
      </h1>
      {view.after?.worse.map((w) => (
        <p key={w} className="text-lamp">
          Worse than before: {w}
        </p>
      ))}
      <p className="text-soft">
        {improved
          ? view.ending?.sentences.join(' ')
          : 'The factory state was as good as it gets here; the guide may say so.'}
        {view.copy && ` ${view.copy}`}
        {view.unattended ? ' No one has looked at it yet: take over with U and judge the patterns.' : ''}
      </p>
      {view.cases.length > 0 && <CasesOfDisplay view={view} />}
    </>
  )
}
