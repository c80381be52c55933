import type { Change, Role } from '#core/display'
import { DEPTHS, type Next, type StepKey } from '#core/steps'
import type { Route } from './route'
import { MOST_ROUNDS } from './tuning'

/** What undoes a figure that got worse: everything that a step moved, back at its default. */
interface PutBack {
  readonly step: StepKey
  readonly changes: readonly Change[]
  /** The figure that grew, in a sentence. */
  readonly reason: string
}

const GROUPS: ReadonlyArray<{
  readonly step: StepKey
  readonly figures: readonly string[]
  readonly roles: readonly Role[]
}> = [
  {
    step: 'colour',
    figures: ['natural-average', 'six-average', 'natural-worst', 'six-worst'],
    roles: ['hue', 'saturation', 'colour-luminance', 'colour-amount'],
  },
  { step: 'gamut', figures: ['natural-average', 'six-average'], roles: ['gamut'] },
  { step: 'level-white', figures: ['white-average', 'white-worst'], roles: ['level-white', 'level-tone'] },
  { step: 'white', figures: ['white-average'], roles: ['gain', 'cut', 'white-preset'] },
]

/**
 * The first step whose settings, put back as they came, would undo a figure that got worse; undefined where there is none.
 * In: route; `averagesOnly`: a single patch that got worse while the average fell is no reason.
 */
export const putBackOf = (route: Route, averagesOnly = false): PutBack | undefined => {
  const { facts } = route.context
  const outOfBox = route.outOfBox?.state
  if (!outOfBox) return undefined
  for (const group of GROUPS) {
    const worse = route.worse.find(
      (w) =>
        group.figures.includes(w.key) &&
        !facts.accepted.includes(w.key) &&
        (!averagesOnly || w.key.endsWith('-average')),
    )
    if (!worse || facts.skipped[group.step] || (group.step === 'colour' && gainedMore(route))) continue
    const changes = facts.sheet.controls.flatMap((c): Change[] => {
      const [from, to] = [facts.state[c.key], outOfBox[c.key]]
      const moved = from !== undefined && to !== undefined && from !== to
      // What is greyed out by now cannot be put back.
      return moved && group.roles.includes(c.role) && route.context.movable(c)
        ? [{ control: c.key, from, to }]
        : []
    })
    if (changes.length) return { step: group.step, changes, reason: worse.sentence }
  }
  return undefined
}

/** Whether memory colours gained more than primaries and secondaries lost: things are looked at longer than full colours. */
const gainedMore = ({ before, after }: Route): boolean => {
  const [natural, six] = [
    (before?.natural?.average ?? 0) - (after?.natural?.average ?? 0),
    (after?.six?.average ?? 0) - (before?.six?.average ?? 0),
  ]
  return natural > six
}

/** The step of an adjustment that has come up again and again. */
const wentRound = (route: Route, next: Next): StepKey | undefined => {
  if (next.kind !== 'adjust') return undefined
  const { facts } = route.context
  const { changes, reads } = next.adjustment
  const step = route.at
  const same = facts.adjustments.filter((m) => {
    if (m.step !== step || JSON.stringify(m.changes) !== JSON.stringify(changes)) return false
    const read = new Set(facts.readings.filter((r) => r.runId === m.runId).map((r) => r.patch.key))
    return reads.every((p) => read.has(p.key))
  })
  return same.length >= MOST_ROUNDS ? step : undefined
}

/** What the route asks of a reviewer, and the answers that there are. */
export const QUESTIONS = {
  depth: [...DEPTHS, 'ask'],
  green: ['lower', 'leave'],
  flashes: ['yes', 'no'],
  /** A value of the display's own control. */
  mapping: null,
  colour: ['more'],
  more: ['1', '2', '3', '4', '5', '6', '7', '8', '9'],
} as const
export type Question = keyof typeof QUESTIONS

/** What a reviewer has agreed to, with an answer in the place of an earlier one to the same question. */
export const withAnswer = (accepted: readonly string[], question: Question, answer: string): string[] => [
  ...accepted.filter((key) => !key.startsWith(`${question}=`)),
  `${question}=${answer}`,
]

/** What is done in a reviewer's place where nobody is there to be asked. */
export type Decision =
  | { readonly kind: 'go' }
  | { readonly kind: 'choose-mode'; readonly mode: string; readonly reason: string }
  /** A question of the route is answered: kept among what was agreed to, as `question=answer`. */
  | { readonly kind: 'decide'; readonly question: Question; readonly answer: string }
  | { readonly kind: 'leave'; readonly step: StepKey; readonly reason: string }
  | { readonly kind: 'put-back'; readonly putBack: PutBack }
  /** Nothing is left to do: the case is verified. */
  | { readonly kind: 'finished' }
  | { readonly kind: 'stop'; readonly reason: string }

/**
 * Decides in a reviewer's place: the proposed mode is taken, an adjustment that goes round in circles is left, what got worse is put back, and
 * what only eyes can tell ends the work. The same for every way of working unattended.
 */
export const decideUnattended = (route: Route): Decision => {
  const { next } = route
  switch (next.kind) {
    case 'choose-mode': {
      const choice = next.proposals.find((p) => !p.against) ?? next.proposals[0]
      return choice
        ? { kind: 'choose-mode', mode: choice.mode, reason: choice.reasons.join(' ') }
        : { kind: 'stop', reason: 'No picture mode could be judged.' }
    }
    // Nobody has to set the values, and only the picture counts.
    case 'choose-flashes':
      return { kind: 'decide', question: 'flashes', answer: 'yes' }
    case 'choose-depth':
      return { kind: 'decide', question: 'depth', answer: 'all' }
    case 'choose-mapping':
      return { kind: 'decide', question: 'mapping', answer: String(next.proposed) }
    case 'choose-green':
      return { kind: 'decide', question: 'green', answer: 'lower' }
    case 'feed-fault':
      // A picture that is enlarged or sharpened reads as bright as one that is not.
      if (next.findings.every((f) => f.fault === 'overscan'))
        return { kind: 'leave', step: 'signal', reason: next.findings[0]?.sentence ?? '' }
      return {
        kind: 'stop',
        reason: `Something is wrong with the signal. ${next.findings[0]?.sentence ?? ''}`,
      }
    case 'confirm-values':
      return { kind: 'stop', reason: 'Some values have to be checked in the menu first.' }
    case 'visual-check':
      return { kind: 'stop', reason: 'The next step is a visual check.' }
    case 'worse':
    case 'compose': {
      const putBack = putBackOf(route, true)
      return putBack ? { kind: 'put-back', putBack } : { kind: 'finished' }
    }
    default: {
      // What got worse is restored before a long sweep is read that would have to be read again.
      const open = route.steps.find((s) => s.status === 'now' || s.status === 'stale')?.key
      const putBack = next.kind === 'sweep' && open === 'eotf' ? putBackOf(route, true) : undefined
      if (putBack) return { kind: 'put-back', putBack }
      const step = wentRound(route, next)
      return step
        ? { kind: 'leave', step, reason: 'the same adjustment came up again and again' }
        : { kind: 'go' }
    }
  }
}
