import { done, open, type StepPlan } from '../contract'
import type { StepContext } from '../facts/context'
import { levelBasisOf, levelTrial } from '../facts/hdr-levels'
import { levelsMoveNothing } from './say'

/** In HDR: what has to be known of single levels before any is moved. Out: plan; undefined where they can be gone on with. */
export const trialOf = ({ facts, scale, allByRole, patches, movable }: StepContext): StepPlan | undefined => {
  if (scale.levelsAsNamed || facts.policy.levelWhite === 'two-point') return undefined
  if (allByRole.levelWhite.length + allByRole.levelTone.length === 0) return undefined
  const adjustment = levelTrial(facts, allByRole, patches, movable)
  if (adjustment) return open({ kind: 'adjust', adjustment }, 'where single levels act')
  return levelBasisOf(facts, allByRole, patches) === 'nowhere'
    ? done('without effect in HDR', {
        limits: [levelsMoveNothing],
      })
    : undefined
}
