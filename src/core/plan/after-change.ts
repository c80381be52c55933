import { type Control, ROLES } from '#core/display'
import { GREY_LEVELS, type Patch, type PatchSet, SIX_NAMES } from '#core/measure'
import { isStepKey, type StepKey } from '#core/steps'

/** The step that a control belongs to; automatic picture processing belongs to preparing. */
export const stepOfControl = ({ role }: Pick<Control, 'role'>): StepKey => {
  const { step } = ROLES[role]
  if (!isStepKey(step)) throw new Error(`The role ${role} names a step that there is not: ${step}`)
  return step
}

/** The fewest patches that tell what a change of a control did; none where a meter tells nothing of it. In: control; patches of the signal. */
export const readsAfter = (control: Control, { grey, white, six, muted }: PatchSet): readonly Patch[] => {
  const greys = (...percents: number[]) => percents.map(grey)
  switch (control.role) {
    case 'peak-luminance':
      return greys(100)
    case 'black-level':
      return greys(100, 5, 2, 0)
    case 'white-level':
      return greys(100, 98, 95, 90)
    case 'tone-curve':
      return greys(100, 70, 50, 30, 10)
    case 'white-preset':
      return greys(100, 70, 30, 10)
    case 'gain':
      return greys(100, 60, 30)
    case 'cut':
      return greys(10, 20, 50)
    case 'level-white':
    case 'level-tone': {
      const at = Math.round(1000 * (control.level ?? 0.5)) / 10
      return greys(...new Set([Math.min(100, at + 10), at, Math.max(5, at - 10)]))
    }
    case 'hue':
    case 'saturation':
    case 'colour-luminance':
    case 'colour-amount':
    case 'gamut': {
      const of = (list: readonly Patch[]) =>
        control.colour ? list.filter((_, i) => SIX_NAMES[i] === control.colour) : list
      return [white, ...of(six), ...(control.colour ? of(muted) : [])]
    }
    case 'dynamic-contrast':
    case 'shadow-lift':
    case 'highlight-lift':
      return GREY_LEVELS.filter((l) => l % 20 === 0).map(grey)
    default:
      return []
  }
}
