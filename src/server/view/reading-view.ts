import { xyzToUv, xyzToXy } from '#core/colorimetry'
import { factoryState, showValue } from '#core/display'
import {
  ASSUMED_PRECISION,
  codesOf,
  driftsTooMuch,
  FAULT_SENTENCE,
  type Patch,
  readingSigma,
  USUAL_WINDOW,
} from '#core/measure'
import { SDR_SIGNAL, saySignal, signalDifferences } from '#core/signal'
import type { ReadingRow } from '#db'
import type { Context } from '../base/context'
import { loadSession, xyzOf } from '../session/record'
import { runTitle } from './run-title'
import type { ReadingView } from './views'

/** How a patch lies on the screen, in words. */
export const sayLayout = (patch: Patch): string => {
  const { position } = patch
  const lies = sayPicture(patch)
  return position && (position.x !== 0.5 || position.y !== 0.5)
    ? `${lies}; the meter at ${Math.round(100 * position.x)} % of the width and ${Math.round(100 * position.y)} % of the height, from the upper left`
    : lies
}

const sayPicture = ({ layout, window = USUAL_WINDOW, surround, highlight, ramp }: Patch): string => {
  if (layout === 'checkerboard') return 'checkerboard, five by five fields'
  if (layout === 'pixels') return 'single pixels, black and white in turn'
  const on = surround?.some((s) => s > 0) ? 'on white' : 'on black'
  const lies = window === 1 ? 'whole screen' : `window of ${Math.round(1000 * window) / 10} % ${on}`
  return `${lies}${highlight ? ', a highlight at the upper edge' : ''}${ramp ? ', a ramp along the lower edge' : ''}`
}

/** Everything about one reading of a session, or undefined where there is none. */
export const readingView = async (
  ctx: Context,
  sessionId: number,
  readingId: number,
): Promise<ReadingView | undefined> => {
  const record = await loadSession(ctx, sessionId)
  const reading = record?.readings.find((r) => r.id === readingId)
  if (!record || !reading) return undefined
  const run = record.runs.find((r) => r.id === reading.runId)!
  const state = record.states.get(reading.stateId)!.values
  const factory = factoryState(record.sheet.document)
  const xyz = reading.y === null ? null : xyzOf(reading)
  const precision = run.meter?.precision ?? ASSUMED_PRECISION
  return {
    id: reading.id,
    patch: reading.patch.label,
    codes: codesOf(reading.patch, record.session.signalFormat ?? SDR_SIGNAL).codes,
    xyz,
    sigma: xyz && (reading.sigma?.[1] ?? readingSigma(xyz[1], precision)),
    xy: xyz && xyzToXy(xyz),
    uv: xyz && xyzToUv(xyz),
    fault: reading.fault ? FAULT_SENTENCE[reading.fault] : null,
    raw: reading.raw,
    takenAt: reading.takenAt.toISOString(),
    duration: reading.duration,
    attempt: reading.attempt + 1,
    run: runTitle(record, run),
    meter:
      reading.meter || (run.meter ? `${run.meter.maker} ${run.meter.model} ${run.meter.serial}` : 'unknown'),
    state: record.sheet.document.controls.map((c) => {
      const value = state[c.key] ?? c.default
      return { label: c.label, shown: showValue(c, value), changed: value !== factory[c.key] }
    }),
    circumstances: circumstancesOf(
      reading,
      record.session.signalFormat ?? SDR_SIGNAL,
      await correctionName(ctx, reading.correctionId),
    ),
  }
}

const correctionName = async ({ db }: Context, id: number | null): Promise<string | undefined> =>
  id === null ? undefined : (await db.corrections.findByPk(id))?.name

const ORIGIN: Readonly<Record<string, string>> = {
  bench: 'measured by the bench',
  typed: 'typed by a person',
  imported: 'imported from a file',
}
const FLAG: Readonly<Record<string, string>> = {
  'too-dark': 'the meter says that it is too dark for it',
  saturated: 'the meter says that it is saturated',
  unstable: 'the meter says that the light changed',
  'flagged-otherwise': 'the source flagged something else than was asked',
}

/** What is to be said of a reading beside its value. */
export const marksOf = (reading: ReadingRow): string[] => [
  ...(reading.kind === 'control' ? ['read for drift'] : []),
  ...(reading.kind === 'settle' ? ['warm-up'] : []),
  ...(reading.origin === 'bench' ? [] : [reading.origin]),
  ...reading.flags.map((f) => f.replaceAll('-', ' ')),
]

/** What stood around a reading. */
const circumstancesOf = (
  reading: ReadingRow,
  asked: typeof SDR_SIGNAL,
  correction: string | undefined,
): ReadingView['circumstances'] => {
  const { seen, drift, onFor, uncorrected, samples } = reading
  const { linkRate } = reading.patch
  const sent = linkRate ? { ...asked, rate: linkRate } : asked
  const differences = seen?.signal ? signalDifferences(sent, seen.signal) : []
  return [
    { name: 'Origin', text: ORIGIN[reading.origin] ?? reading.origin },
    { name: 'Patch', text: sayLayout(reading.patch) },
    { name: 'Signal asked for', text: saySignal(sent) },
    {
      name: 'Signal seen',
      text: !seen?.signal
        ? 'the display was not asked'
        : differences.length
          ? differences.join(' ')
          : 'the display sees what was sent',
      warn: differences.length > 0,
    },
    { name: 'Averaged', text: samples === 1 ? 'one reading' : `${samples} readings` },
    { name: 'Meter’s correction', text: reading.meterSlot ?? 'none' },
    {
      name: 'Four-colour correction',
      text: correction
        ? `${correction}${uncorrected ? `; uncorrected ${uncorrected.map((v) => v.toPrecision(4)).join(', ')}` : ''}`
        : 'none',
    },
    ...(reading.exposure
      ? [
          {
            name: 'Exposure',
            text: [
              reading.exposure.integration === null
                ? ''
                : `${reading.exposure.integration.toFixed(1)} s of light`,
              reading.exposure.sinceShown === null
                ? ''
                : `${reading.exposure.sinceShown.toFixed(1)} s after the patch appeared`,
            ]
              .filter(Boolean)
              .join(', '),
          },
        ]
      : []),
    { name: 'Powered on for', text: onFor === null ? 'unknown' : `${Math.floor(onFor / 60)} min` },
    {
      name: 'Drift',
      text: drift
        ? `${(100 * drift.luminance).toFixed(2)} %, Δu′v′ ${drift.chromaticity.toFixed(4)}, over ${Math.round(drift.seconds)} s`
        : 'not read before it',
      warn: drift ? driftsTooMuch(drift) : false,
    },
    ...(reading.flags.length
      ? [{ name: 'Flags', text: reading.flags.map((f) => FLAG[f] ?? f).join('; '), warn: true }]
      : []),
  ]
}
