import { sayDay } from '#core/measure'
import { STEP_TITLE, type StepKey } from '#core/steps'

/** A day in words. In: ISO 8601 text. */
export const day = sayDay

const CLOCK = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
})
/** Day and time of a reading by this machine’s clock; what is no time stays as it is. In: ISO 8601. */
export const clock = (iso: string): string =>
  Number.isNaN(Date.parse(iso)) ? iso : CLOCK.format(new Date(iso))

/** A luminance with the digits that it deserves, without its unit. In: cd/m². */
export const luminance = (value: number): string =>
  Math.abs(value) >= 100
    ? value.toLocaleString('en-GB', { minimumFractionDigits: 1, maximumFractionDigits: 1 })
    : Math.abs(value) >= 1
      ? value.toFixed(2)
      : Math.abs(value) >= 0.1
        ? value.toFixed(3)
        : value.toFixed(4)

/** A standard error with its one figure that means something. In: cd/m². */
export const uncertainty = (sigma: number): string =>
  sigma >= 1
    ? sigma.toFixed(0)
    : Number(sigma.toPrecision(1)).toFixed(Math.min(5, Math.max(1, -Math.floor(Math.log10(sigma || 1)))))

/** Time that is left, in words that need no second look. In: seconds. */
export const duration = (seconds: number): string =>
  seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`

/** The step that a session has reached, in words; a moment after it was begun or changed it is not known yet. */
export const stepAt = (step: StepKey | null): string => {
  if (step === null) return 'just started'
  return step === 'guide' ? 'ready for its guide' : `at ${STEP_TITLE[step]}`
}
