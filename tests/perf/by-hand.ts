import { endingOf } from '#core/plan'
import { HAND_PACE, occupiedBy } from '#core/steps'
import { caseByHand, type HandCase } from '#tests/case-by-hand'
import { bestGreyOf, type Drawn, drawDisplay, populationBench, trueGreyOf } from '#tests/population'
import { spread } from './calibration'

/** Displays that the figures are taken from; fewer where `WEXMAR_DISPLAYS` says so. */
const DISPLAYS = Math.min(60, Number(process.env.WEXMAR_DISPLAYS ?? 60))
/** Seconds for a reading and for a click, as the figures are told. */
const [READING, CLICK] = [4, 1.5]
/** Average ΔE00 above the best whole clicks from which an end that says that nothing is to be gained was a false one. */
const FALSE_END = 0.5

type Row = (what: string, measured: string, wanted: string) => void

const minutesOf = ({ readings, clicks }: HandCase) => (readings * READING + clicks * CLICK) / 60

interface Judged extends HandCase {
  /** Greyscale ΔE00 above the best whole clicks, without the meter's scatter. */
  readonly above: number
}

interface Both {
  readonly levels: boolean
  readonly first: Judged
  readonly second: Judged
}

const judged = (display: Drawn, one: HandCase): Judged => ({
  ...one,
  above: trueGreyOf(display, one.state).average - bestGreyOf(display, one.state),
})

const endsFalsely = ({ route, skipped, above }: Judged): boolean =>
  !endingOf(route, skipped).goingOn && above > FALSE_END

/** Figures of whole cases that a careful person goes by hand, and of a second one on the same display. In: where a figure goes. */
export const byHand = async (row: Row): Promise<void> => {
  const cases: Both[] = []
  const stopped: string[] = []
  for (let seed = 1; seed <= DISPLAYS; seed++) {
    const display = drawDisplay(seed)
    const bench = populationBench(display, seed)
    try {
      const first = await caseByHand(display, bench, 'sdr-dark', HAND_PACE)
      const second = await caseByHand(display, bench, 'sdr-bright', HAND_PACE, {
        priors: first.priors,
        known: first.known,
        occupied: occupiedBy(display.sheet, first.state, 'sdr-dark', 'sdr'),
      })
      cases.push({
        levels: !display.family.startsWith('0 '),
        first: judged(display, first),
        second: judged(display, second),
      })
    } catch (error) {
      stopped.push((error as Error).message.slice(0, 90))
    }
  }
  const figure = (what: string, of: (c: Both) => number, digits: number, wanted: string) => {
    row(what, spread(cases.map(of), digits), wanted)
  }
  row(`by hand: displays of ${DISPLAYS} on which both cases end`, `${cases.length}`, 'all')
  for (const reason of new Set(stopped))
    row(`  ended before: ${reason}`, `${stopped.filter((s) => s === reason).length}`, 'none')
  for (const levels of [true, false]) {
    const own = cases.filter((c) => c.levels === levels)
    const what = levels ? 'with single levels' : 'without single levels'
    const tell = (name: string, of: (c: HandCase) => number, wanted: string) =>
      row(
        `  ${what}: ${name}`,
        spread(
          own.map((c) => of(c.first)),
          0,
        ),
        wanted,
      )
    tell('readings', (c) => c.readings, '')
    tell('values', (c) => c.values, '')
    tell('clicks', (c) => c.clicks, '')
    tell(`minutes at ${READING} s a reading and ${CLICK} s a click`, minutesOf, levels ? '40' : '12')
  }
  figure('  greyscale ΔE00 above the best whole clicks', (c) => c.first.above, 2, 'as unattended')
  figure('second case: share of the readings', (c) => c.second.readings / c.first.readings, 2, 'at most 0.5')
  figure('  share of the minutes', (c) => minutesOf(c.second) / minutesOf(c.first), 2, 'at most 0.5')
  figure('  greyscale ΔE00 above the best whole clicks', (c) => c.second.above, 2, 'as unattended')
  const ends = cases.flatMap((c) => [endsFalsely(c.first), endsFalsely(c.second)])
  row(
    `ends that say that nothing is to be gained, where ΔE00 ${FALSE_END} or more is`,
    `${ends.filter(Boolean).length} of ${ends.length}`,
    'none',
  )
}
