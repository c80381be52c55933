import type { CaseDocument, GuideMeasure } from '#core/guide/document'
import { sayWhole } from '#core/measure'
import { measureOf } from './compose'

/** What a case was read again with: firmware, day (YYYY-MM-DD), readings of the check alone, meter. */
export interface Rechecked {
  readonly firmware: string
  readonly measuredOn: string
  readonly readings: number
  readonly meter: string
  /** Ids of the readings of the new sweep. */
  readonly verification: readonly number[]
}

/** How a published case stands after a new firmware. */
export interface RecheckVerdict {
  /** Average greyscale ΔE00 as it was published, and now. */
  readonly was: number
  readonly is: number
  /** What has changed beyond the scatter of reading, in sentences; none where the settings still hold. */
  readonly changed: readonly string[]
}

/** By how much figures of the same settings may differ from one verification to the next: ΔE, and luminance as a share. */
const SAME = { average: 0.5, luminance: 0.06, colours: 0.7 } as const

/** Holds what was read again against what was published. In: both, at the same settings; whether they are of HDR, where colours count in ΔE ITP. */
export const judgeRecheck = (was: GuideMeasure, is: GuideMeasure, hdr = false): RecheckVerdict => {
  const share = Math.abs(is.luminance / was.luminance - 1)
  const steps = hdr ? 3 : 1
  return {
    was: was.whiteError.average,
    is: is.whiteError.average,
    changed: [
      ...(is.whiteError.average > was.whiteError.average + SAME.average
        ? [
            `Greyscale ΔE00 went from ${was.whiteError.average.toFixed(1)} to ${is.whiteError.average.toFixed(1)}.`,
          ]
        : []),
      ...(share > SAME.luminance
        ? [`White went from ${sayWhole(was.luminance)} to ${sayWhole(is.luminance)} cd/m².`]
        : []),
      ...(was.natural && is.natural && is.natural.average > was.natural.average + SAME.colours * steps
        ? [
            `Memory colours went from ${was.natural.average.toFixed(1)} to ${is.natural.average.toFixed(1)}, ${hdr ? 'ΔE ITP' : 'ΔE00'}.`,
          ]
        : []),
    ],
  }
}

/**
 * A case as it is published after it was read again with another firmware and still holds: its values stay, what was measured after is new, and it says both.
 * In: case as it was published; verdict on the new sweep; what it was read with. Out: case.
 */
export const recheckedCase = (
  of: CaseDocument,
  verdict: Parameters<typeof measureOf>[0],
  { firmware, measuredOn, readings, meter, verification }: Rechecked,
): CaseDocument => {
  const after = measureOf(verdict)
  const derived = of.recheck ?? { derivedWith: of.display.firmware, derivedOn: of.method.measuredOn }
  return {
    ...of,
    display: { ...of.display, firmware },
    method: { ...of.method, measuredOn, meter, readings: of.method.readings + readings },
    after,
    verification: [...verification],
    recheck: {
      derivedWith: derived.derivedWith,
      derivedOn: derived.derivedOn,
      was: (of.after ?? after).whiteError.average,
      is: after.whiteError.average,
    },
  }
}

/** What a reader is told of a case that was read again, in a sentence; undefined where it was not. */
export const sayRecheck = ({ recheck, display }: CaseDocument): string | undefined =>
  recheck &&
  `Settings derived with firmware ${recheck.derivedWith}; read again with ${display.firmware}: greyscale ΔE00 was ${recheck.was.toFixed(1)}, is ${recheck.is.toFixed(1)}.`
