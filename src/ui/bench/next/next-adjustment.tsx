import { duration } from '#ui/static'
import { markedDepth, markedMapping, markedMode, triedValue } from '../bench-state'
import { ChangeLine, ChangeSheet, commonPath, MOST_LARGE, Path, sizeFor } from './change'
import { ChooseMapping } from './choose-mapping'
import { ConfirmValues } from './confirm-values'
import { Finish } from './finish'
import { ChooseDepth, ChooseFlashes, ChooseGreen, ChooseMode } from './next-choices'
import { Prepare, Restore, Survey, Sweep, Tour } from './next-display'
import { Above, type Of, type Props, takes } from './next-parts'
import { Look } from './visual-check'

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
      return <Adjustment next={next} hdr={view.hdr} />
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

const Expectation = ({ next, hdr }: { next: Of<'adjust'>; hdr: boolean }) => {
  const { expected } = next
  const light = expected?.quantity === 'luminance'
  const digits = light ? 0 : 1
  const unit = light ? ' cd/m²' : ''
  const name =
    expected?.quantity === 'luminance'
      ? 'White'
      : expected?.quantity === 'colour-error'
        ? `Average colour error, ${hdr ? 'ΔE ITP' : 'ΔE00'}`
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

const Adjustment = ({ next, hdr }: { next: Of<'adjust'>; hdr: boolean }) => {
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
      <Expectation next={next} hdr={hdr} />
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
