import { calibrationResult, drive, learnedFrom, type Outcome, wishOf } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import { DisplayInputs, linkTable, SourceDevice } from '#core/signal'
import { drawDisplay, drawHdr, drawLatency, populationBench, withLatency } from '#tests/population'
import { quantile, spread } from './calibration'
import { desktop } from './desktop'

/** Displays that the figures are taken from; fewer where `WEXMAR_DISPLAYS` says so. */
const DISPLAYS = Math.min(100, Number(process.env.WEXMAR_DISPLAYS ?? 60))
type Row = (what: string, measured: string, wanted: string) => void

const isOutcome = (o: Outcome | { readonly stopped: string }): o is Outcome => 'verified' in o
const how = { pause: async () => undefined }

/** Time of the whole table of a source on a socket. */
const linkPlanner = (row: Row): void => {
  const rates = [24, 25, 30, 48, 50, 60, 100, 120, 144, 165, 240]
  const formats = [
    [1280, 720],
    [1920, 1080],
    [2560, 1440],
    [3840, 2160],
    [7680, 4320],
  ].map(([width, height]) => ({ width, height, rates }))
  const both = { formats, bitDepths: [8, 10, 12], chroma: ['4:4:4', '4:2:2', '4:2:0'] }
  const varies = { variableRefresh: { slowest: 40, fastest: 240 } }
  const source = SourceDevice.parse({
    ...both,
    ...varies,
    name: 'Source',
    kind: 'computer',
    link: 'frl-48',
    compressed: true,
    ranges: ['full', 'limited'],
  })
  const inputs = DisplayInputs.parse({
    ...both,
    ...varies,
    sockets: [{ key: 'one', label: 'Input 1', link: 'frl-48', compressed: true }],
  })
  const path = {
    source,
    cable: 'frl-48' as const,
    inputs,
    socket: inputs.sockets[0]!,
    unlocked: true,
    labelled: true,
  }
  const times = Array.from({ length: 40 }, () => {
    const begin = performance.now()
    linkTable(path, 'game', 'full')
    return performance.now() - begin
  })
  row(
    'link planner: 55 rates of a source on a socket',
    `${quantile(times, 0.95).toFixed(1)} ms for 95 %`,
    'at most 20 ms',
  )
}

/** Latency tables and options of drawn displays, against what they really do. */
const latency = async (row: Row): Promise<void> => {
  let [told, right, rows, within, verified] = [0, 0, 0, 0, 0]
  for (let seed = 1; seed <= DISPLAYS; seed++) {
    const drawn = drawLatency(seed)
    const outcome = await drive(
      withLatency(populationBench(drawDisplay(seed), seed).port, drawn, seed),
      { viewingCase: 'sdr-game', policy: REFERENCE_POLICY },
      how,
    )
    if (!isOutcome(outcome) || !outcome.verified) continue
    verified++
    const result = calibrationResult(outcome)
    for (const r of result.latency ?? []) {
      const state = Object.fromEntries((r.option ?? '').split('+').map((pair) => pair.split('=')))
      rows++
      if (
        Math.abs(r.mean - drawn.truth(state, r.rate, r.position as 'top')) <
        (3 * drawn.spread) / Math.sqrt(r.flashes)
      )
        within++
    }
    for (const { control, saves } of drawn.claims)
      for (const [value, byRate] of Object.entries(saves).filter(([v]) => v !== 'off'))
        for (const rate of drawn.rates) {
          told++
          const own = result.latencyOptions?.find((o) => o.key === `${control.key}=${value}`)
          if (own?.rates.find((o) => o.rate === rate)?.helps === byRate[rate]! > 0.5) right++
        }
  }
  row(`SDR game cases of ${DISPLAYS} displays that end verified`, `${verified}`, 'all')
  row('latency rows within three standard errors of the truth', `${within} of ${rows}`, 'all but chance')
  row('options told from idle ones, at each rate', `${right} of ${told}`, 'all')
}

/** HDR games after HDR film on the same unit. */
const afterFilm = async (row: Row): Promise<void> => {
  const share: number[] = []
  const alone: number[] = []
  const stopped: string[] = []
  for (let seed = 1; seed <= Math.ceil(DISPLAYS / 3); seed++) {
    const drawn = drawDisplay(seed)
    const withHdr = drawHdr(drawn)
    const bench = withLatency(
      populationBench({ ...drawn, sheet: withHdr.sheet }, seed, withHdr).port,
      drawLatency(seed),
      seed,
    )
    const film = await drive(bench, { viewingCase: 'hdr-film', policy: REFERENCE_POLICY }, how)
    if (!isOutcome(film) || !film.verified) continue
    const game = await drive(
      bench,
      {
        viewingCase: 'hdr-game',
        policy: REFERENCE_POLICY,
        ...wishOf(learnedFrom(film, undefined), film.identity.serial, 'hdr-game'),
      },
      how,
    )
    if (!isOutcome(game) || !game.verified) {
      stopped.push(game.stopped ?? 'not verified')
      continue
    }
    const of = (o: Outcome) => o.readings + o.surveyReadings
    alone.push(of(game))
    share.push((100 * of(game)) / of(film))
  }
  for (const reason of new Set(stopped))
    row(`  ended before: ${reason}`, `${stopped.filter((s) => s === reason).length}`, 'none')
  row('HDR game after HDR film, measurements', spread(alone, 0), '')
  row('  % of those of the film', spread(share, 0), 'at most 50')
}

/** Figures of games and of the signal path. In: where a figure goes. */
export const games = async (row: Row): Promise<void> => {
  linkPlanner(row)
  await desktop(row)
  await latency(row)
  await afterFilm(row)
}
