import { controlByRole, showValue } from '#core/display'
import { CASE_LABEL } from '#core/judge'
import { driftsTooMuch, isOnOwnLink, USUAL_WARM_UP } from '#core/measure'
import { SDR_SIGNAL, sayWord, signalDifferences } from '#core/signal'
import type { ReadingRow } from '#db'
import type { BenchSight } from '../base/context'
import type { SessionRecord } from '../session/record'
import type { SessionHeaderView } from './views'

/** Bench seconds between readings, from the newest ones. */
const secondsPerReading = (readings: readonly ReadingRow[]): number | undefined => {
  const recent = readings.slice(-12)
  return recent.length ? recent.reduce((sum, r) => sum + r.duration, 0) / recent.length : undefined
}

/** The strip on top: what stands there, what it shows, whether it can be trusted. */
export const sessionHeaderOf = (
  record: SessionRecord,
  sight: BenchSight,
  /** What the next adjustment would overwrite of another case; undefined where nothing. */
  overwrites: string | undefined,
  /** That it is done on another bench than the one that is seen, in a sentence. */
  apart = '',
): SessionHeaderView => {
  const { session, sheet, model, variant, unit } = record
  const { devices } = session
  const warnings: string[] = []
  const usesBench = Object.values(devices).includes('bench')
  const onStand = sight.ok ? sight.bench.display : undefined
  const here = onStand?.serial === unit.serial
  if (!usesBench) {
    // Whatever the bench does, this session does not rest on it.
  } else if (apart) warnings.push(apart)
  else if (!sight.ok)
    warnings.push(`${sight.message} Readings are kept; start the bench or check its address.`)
  else if (devices.display === 'hand') {
    // The display is a person's part; the bench may hold any.
  } else if (!onStand) warnings.push('The bench has no display.')
  else if (!here)
    warnings.push(`Another unit stands on the bench: ${onStand.maker} ${onStand.model}, ${onStand.serial}.`)
  else if (onStand.firmware !== record.firmware.version)
    warnings.push(
      `The display now has firmware ${onStand.firmware}; this session belongs to ${record.firmware.version}.`,
    )
  const told = unit.switchedOnAt ? (Date.now() - unit.switchedOnAt.getTime()) / 1000 : undefined
  const onFor = devices.display === 'bench' && sight.ok && here ? sight.bench.displayOnFor : told
  const seen =
    record.readings.findLast((r) => r.seen?.signal && isOnOwnLink(r))?.seen?.signal ?? session.seenSignal
  const signal = session.signalFormat ?? SDR_SIGNAL
  if (seen) warnings.push(...signalDifferences(signal, seen))
  warnings.push(...record.unreadable)
  const lastRun = record.runs.at(-1)
  if (lastRun) warnings.push(...lastRun.notes)
  if (overwrites) warnings.push(overwrites)
  const drifting = record.readings.findLast((r) => r.drift)?.drift
  const cold = onFor !== undefined && onFor < USUAL_WARM_UP
  const meter = sight.ok ? sight.bench.meter : undefined
  const pattern = sight.ok ? sight.bench.pattern : undefined
  const pace = secondsPerReading(record.readings)
  const mode = controlByRole(sheet.document, 'picture-mode')
  const shownMode = session.baseMode ?? (mode ? record.state.values[mode.key] : undefined)
  return {
    display: `${model.maker} ${model.name} ${variant.sizeInch}`,
    unit: unit.label,
    unitId: unit.id,
    firmware: record.firmware.version,
    viewingCase: CASE_LABEL[session.viewingCase],
    baseMode: mode && shownMode !== undefined ? `“${showValue(mode, shownMode)}”` : 'one only',
    modeChosen: session.baseMode !== null || !mode,
    signal:
      devices.pattern === 'page'
        ? 'SDR, 8 bit, full, browser page'
        : devices.pattern === 'hand'
          ? 'by hand'
          : pattern
            ? `${sayWord(signal.transfer)}, ${signal.bitDepth} bit, ${signal.range}`
            : 'no pattern source',
    warmUp: {
      text:
        onFor === undefined ? 'unknown' : `${Math.floor(onFor / 60)} min${cold ? ', not settled yet' : ''}`,
      warn: onFor === undefined || cold,
      ...(onFor !== undefined && onFor === told ? { since: unit.switchedOnAt!.toISOString() } : {}),
    },
    meter: {
      text:
        devices.meter === 'hand'
          ? session.meterName || 'read by hand'
          : !meter
            ? 'no meter'
            : pace
              ? `Ready, ${pace.toFixed(1)} s a reading`
              : 'Ready',
      warn: devices.meter === 'bench' && !meter,
    },
    drift: {
      text: drifting
        ? `${drifting.luminance < 0 ? '−' : '+'}${Math.abs(100 * drifting.luminance).toFixed(1)} % in ${Math.max(1, Math.round(drifting.seconds / 60))} min`
        : devices.meter === 'hand'
          ? 'not watched'
          : 'not read yet',
      warn: drifting ? driftsTooMuch(drifting) : false,
    },
    warnings: [...new Set(warnings)],
    placeUnit: sight.ok && sight.bench.simulated && !here ? unit.serial : undefined,
    simulated: sight.ok && sight.bench.simulated,
  }
}
