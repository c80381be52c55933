import type { Role } from '#core/display'
import { eotf } from './check/eotf'
import { outOfBox } from './check/out-of-box'
import { prepare } from './check/prepare'
import { signal } from './check/signal'
import { survey } from './check/survey'
import { verify } from './check/verify'
import { colour } from './colour/colour'
import { gamut } from './colour/gamut'
import { defineStep, everyCase, type Step } from './contract'
import type { CaseOf } from './facts/facts'
import type { FindingKey } from './facts/findings'
import { latency } from './games/latency'
import { tradeOffs } from './games/trade-offs'
import { blackLevel, blackLevelAgain } from './light/black-level'
import { hdrBlackLevel, hdrWhiteLevel } from './light/hdr-ends'
import { hdrLuminance } from './light/hdr-luminance'
import { luminance, luminanceAgain } from './light/luminance'
import { tone } from './light/tone'
import { toneMapping } from './light/tone-mapping'
import { whiteLevel } from './light/white-level'
import { clamps } from './screen/clamps'
import { processing } from './screen/processing'
import { refresh } from './screen/refresh'
import { uniformity } from './screen/uniformity'
import { levelWhite } from './white/level-white'
import { white } from './white/white'

/** What the route ends with; the plan comes to it when nothing else is left. */
const guide = defineStep({
  key: 'guide',
  title: 'Guide',
  restsOn: [],
  cases: everyCase,
  finds: [],
  measures: false,
  plan: () => undefined,
})

/** A list of steps that finds all of `FINDINGS`; of one that does not, the compiler names what is missing. */
const complete = <const Steps extends ReadonlyArray<Step<string>>>(
  steps: Steps &
    ([FindingKey] extends [Steps[number]['finds'][number]]
      ? unknown
      : { readonly missing: Exclude<FindingKey, Steps[number]['finds'][number]> }),
): Steps => steps

/**
 * All steps, in the order in which a case comes to them. What shortens the delay of games is on before anything of the picture rests on it. In HDR
 * luminance stands at its maximum and tone mapping by policy before anything else is read. Both ends are looked at in the curve that was chosen, black
 * and luminance again once white was balanced. Variable refresh and the evenness of the screen are looked at in the final state.
 */
const REGISTRY = complete([
  prepare,
  signal,
  survey,
  latency,
  hdrLuminance,
  toneMapping,
  hdrWhiteLevel,
  outOfBox,
  luminance,
  gamut,
  tone,
  blackLevel,
  whiteLevel,
  white,
  blackLevelAgain,
  hdrBlackLevel,
  levelWhite,
  luminanceAgain,
  colour,
  clamps,
  tradeOffs,
  processing,
  verify,
  eotf,
  refresh,
  uniformity,
  guide,
])

export type StepKey = (typeof REGISTRY)[number]['key']

const byKey = <T>(of: (step: Step) => T): Readonly<Record<StepKey, T>> =>
  Object.fromEntries(REGISTRY.map((s) => [s.key, of(s)])) as Record<StepKey, T>

export const STEP_KEYS = [...new Set(REGISTRY.map((s) => s.key))] as [StepKey, ...StepKey[]]
export const STEP_TITLE = byKey((s) => s.title)
export const RESTS_ON: Readonly<Record<StepKey, readonly Role[]>> = byKey((s) => s.restsOn)

export const isStepKey = (key: string): key is StepKey => (STEP_KEYS as readonly string[]).includes(key)

/** The steps of a viewing case on a display, in order. */
export const stepsOf = (of: CaseOf): ReadonlyArray<Step<StepKey>> => REGISTRY.filter((s) => s.cases(of))
