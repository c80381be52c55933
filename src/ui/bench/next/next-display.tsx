import { Fragment } from 'react'
import { ChangeSheet } from './change'
import { FLASH_CAUTION } from './next-choices'
import { Above, type Of, takes } from './next-parts'

/** Settings that are gone round in one go. */
export const Tour = ({ next }: { next: Of<'tour'> }) => (
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

const PREPARE = [
  'Protective film is off, the screen is clean, the room is dark.',
  'The meter is aimed at the middle, square to the screen.',
  'The display has been on for 45 minutes or more; the strip on top says how long.',
]

export const Prepare = ({ next }: { next: Of<'prepare'> }) => (
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

export const Restore = ({ next }: { next: Of<'restore'> }) => (
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
export const ABOUT = {
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

export const Sweep = ({ next }: { next: Of<'sweep'> }) => {
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

export const Survey = ({ next }: { next: Of<'survey'> }) => (
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
