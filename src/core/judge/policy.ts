import { z } from 'zod'
import { D65 } from '#core/colorimetry'
import { sayTone, type Targets, ToneTarget } from '#core/target'
import type { ViewingCase } from './cases'

/** Rooms in which SDR is watched; games and work at a computer have targets of their own, whatever the room. */
export const Room = z.enum(['dark', 'bright', 'game', 'desktop'])
export type Room = z.infer<typeof Room>

/** An answer for each room; policies from before the desktop was a case get its usual one. */
const perRoom = <S extends z.ZodType>(schema: S, desktop: z.infer<S>) =>
  z.object({ dark: schema, bright: schema, game: schema, desktop: schema.default(desktop as never) })

/** White of a desk in an office, cd/m², and the gamma that operating systems assume. ISO 3664 and IEC 61966-2-1 ask for 80 to 160. */
const DESKTOP = { luminance: 120, tone: 2.2 } as const

/** A third of a ΔE00 for seven minutes. */
const WORTH_A_MINUTE = 0.05
const WHITE_RANGE = 'White lies between 5 and 4000 cd/m².'
const POINT_RANGE = 'x and y of a white point lie between 0.2 and 0.45.'

/**
 * What a reviewer decides where practitioners disagree: one answer to each question, so that a guide can say which it
 * follows.
 */
export const Policy = z.object({
  format: z.literal('wexmar-policy/1'),
  key: z.string().regex(/^[a-z][a-z0-9-]{0,59}$/, 'a key has lower-case letters, digits and hyphens'),
  name: z.string().trim().min(1, 'Give the policy a name.').max(60),
  /** What it is for, in a sentence or two. */
  note: z.string().trim().max(400),
  /** Luminance of white, cd/m². */
  luminance: perRoom(z.number().min(5, WHITE_RANGE).max(4000, WHITE_RANGE), DESKTOP.luminance),
  tone: perRoom(ToneTarget, DESKTOP.tone),
  /** Chromaticity of white; anything but D65 is a preference and needs its name. */
  white: z.object({
    x: z.number().min(0.2, POINT_RANGE).max(0.45, POINT_RANGE),
    y: z.number().min(0.2, POINT_RANGE).max(0.45, POINT_RANGE),
    name: z.string().trim().min(1, 'Name the white that is aimed at.').max(40),
  }),
  green: z.enum(['never', 'free']),
  levelWhite: z.enum(['every', 'visible', 'two-point']),
  /** Average ΔE00 that a minute with the remote has to gain, where a person sets the display. */
  worthAMinute: z
    .number()
    .min(0, 'What a minute has to gain lies between 0 and 2.')
    .max(2, 'What a minute has to gain lies between 0 and 2.')
    .default(WORTH_A_MINUTE),
  publish: z.enum(['all', 'two-point', 'none']),
  sharpness: z.enum(['neutral', 'a-little']),
  dynamicContrast: z.enum(['off', 'where-it-buys-black']),
  dimming: z.enum(['lowest-without-haloing', 'strongest-contrast']),
  motion: z.enum(['none', 'de-judder', 'smooth']),
  hdrToneMapping: z.enum(['clip', 'roll-off', 'dynamic']),
  automaticSwitching: z.enum(['off', 'on']),
  afterAutomatic: z.enum(['leave-off', 'aids-back-on']),
})
export type Policy = z.infer<typeof Policy>

/** The questions that have a few fixed answers, with the words of both; what is measured of a choice is said elsewhere. */
export const POLICY_QUESTIONS = {
  green: {
    question: 'Green in white balance',
    answers: {
      never:
        'left alone, but for tone at single levels, for light in HDR, and where red and blue alone cannot do it',
      free: 'free, where it helps',
    },
  },
  levelWhite: {
    question: 'Multi-point white balance',
    answers: {
      every: 'every level corrected',
      visible: 'only levels above the visible threshold',
      'two-point': 'two-point only',
    },
  },
  publish: {
    question: 'White values of one unit',
    answers: {
      all: 'all published, with their classes',
      'two-point': 'two-point only',
      none: 'none published',
    },
  },
  sharpness: {
    question: 'Sharpness',
    answers: { neutral: 'neutral', 'a-little': 'a little, for distance or low resolution' },
  },
  dynamicContrast: {
    question: 'Dynamic contrast',
    answers: { off: 'off, always', 'where-it-buys-black': 'on where it buys black, the crush measured' },
  },
  dimming: {
    question: 'Local dimming',
    answers: {
      'lowest-without-haloing': 'the most contrast without haloing',
      'strongest-contrast': 'the strongest contrast',
    },
  },
  motion: {
    question: 'Motion',
    answers: { none: 'no interpolation', 'de-judder': 'de-judder only', smooth: 'smooth, for sport' },
  },
  hdrToneMapping: {
    question: 'HDR tone mapping',
    answers: { clip: 'clip', 'roll-off': 'roll-off', dynamic: 'dynamic' },
  },
  automaticSwitching: {
    question: 'Automatic mode switching',
    answers: { off: 'off, for control', on: 'on: a console switches automatically' },
  },
  afterAutomatic: {
    question: 'After automatic calibration',
    answers: { 'leave-off': 'all processing stays off', 'aids-back-on': 'chosen aids switched back on' },
  },
} as const satisfies {
  [K in keyof Policy]?: { question: string; answers: Readonly<Record<string & Policy[K], string>> }
}
export type PolicyQuestion = keyof typeof POLICY_QUESTIONS

const d65 = { x: D65[0], y: D65[1], name: 'D65' }

/** The policies that come with Wexmar; each can be copied and changed. */
export const SHIPPED_POLICIES: readonly [Policy, ...Policy[]] = [
  {
    format: 'wexmar-policy/1',
    key: 'strict-reference',
    name: 'Strict reference',
    note: 'As it was mastered: D65, BT.1886 in the dark, 2.2 in the light, no aid left on.',
    luminance: { dark: 100, bright: 200, game: 150, desktop: 120 },
    tone: { dark: 'bt1886', bright: 2.2, game: 2.2, desktop: 2.2 },
    white: d65,
    green: 'never',
    worthAMinute: WORTH_A_MINUTE,
    levelWhite: 'visible',
    publish: 'all',
    sharpness: 'neutral',
    dynamicContrast: 'off',
    dimming: 'lowest-without-haloing',
    motion: 'none',
    hdrToneMapping: 'clip',
    automaticSwitching: 'off',
    afterAutomatic: 'leave-off',
  },
  {
    format: 'wexmar-policy/1',
    key: 'fitted-to-the-room',
    name: 'Fitted to the room',
    note: 'Accurate colour, with light and tone for the room that people sit in; the judder of film taken out.',
    luminance: { dark: 120, bright: 250, game: 180, desktop: 140 },
    tone: { dark: 2.4, bright: 2.2, game: 2.2, desktop: 2.2 },
    white: d65,
    green: 'free',
    worthAMinute: WORTH_A_MINUTE,
    levelWhite: 'visible',
    publish: 'two-point',
    sharpness: 'neutral',
    dynamicContrast: 'off',
    dimming: 'lowest-without-haloing',
    motion: 'de-judder',
    hdrToneMapping: 'roll-off',
    automaticSwitching: 'on',
    afterAutomatic: 'aids-back-on',
  },
  {
    format: 'wexmar-policy/1',
    key: 'impact',
    name: 'High contrast',
    note: 'More light and contrast than was mastered, named as a preference and with its cost in error.',
    luminance: { dark: 150, bright: 300, game: 220, desktop: 180 },
    tone: { dark: 2.2, bright: 2.2, game: 2.2, desktop: 2.2 },
    white: d65,
    green: 'free',
    worthAMinute: WORTH_A_MINUTE,
    levelWhite: 'two-point',
    publish: 'two-point',
    sharpness: 'a-little',
    dynamicContrast: 'where-it-buys-black',
    dimming: 'strongest-contrast',
    motion: 'de-judder',
    hdrToneMapping: 'dynamic',
    automaticSwitching: 'on',
    afterAutomatic: 'aids-back-on',
  },
]
/** The policy that is followed where nobody chose one. */
export const REFERENCE_POLICY: Policy = SHIPPED_POLICIES[0]

/** The shipped policy of a key, or undefined. */
export const shippedPolicy = (key: string): Policy | undefined => SHIPPED_POLICIES.find((p) => p.key === key)

/** The room whose luminance and tone a case aims at; none where light is absolute. */
const ROOM_OF: Readonly<Record<ViewingCase, Room | undefined>> = {
  'sdr-dark': 'dark',
  'sdr-bright': 'bright',
  'hdr-film': undefined,
  'hdr-film-dynamic': undefined,
  'sdr-game': 'game',
  'hdr-game': undefined,
  desktop: 'desktop',
}
/** Whether a case is watched with metadata that go out scene by scene. */
export const isDynamic = (viewingCase: ViewingCase): boolean => viewingCase === 'hdr-film-dynamic'
export const isHdr = (viewingCase: ViewingCase): boolean => viewingCase.startsWith('hdr')

/** What a policy aims at in a viewing case. In HDR luminance is absolute. */
export const targetsFor = (policy: Policy, viewingCase: ViewingCase): Targets => {
  const room = roomOf(viewingCase)
  if (room) return targetsOf(policy, room)
  return { luminance: HDR_WHITE, white: [policy.white.x, policy.white.y], tone: 'pq-balance' }
}
/** Luminance of white in HDR, cd/m². ITU-R BT.2408-7, 2.1. */
const HDR_WHITE = 203

/** The room of a viewing case; undefined for those of HDR, where light is absolute. */
export const roomOf = (viewingCase: ViewingCase): Room | undefined => ROOM_OF[viewingCase]

/** Targets of a policy in a room. */
export const targetsOf = (policy: Policy, room: Room): Targets => ({
  luminance: policy.luminance[room],
  white: [policy.white.x, policy.white.y],
  tone: policy.tone[room],
})

/** Where a policy goes another way than the reference, as preferences to be named. Out: what it is about, and a phrase. */
export const preferencesOf = (
  policy: Policy,
  viewingCase: ViewingCase,
): Array<{ key: string; phrase: string }> => {
  const room = roomOf(viewingCase)
  const reference = REFERENCE_POLICY
  const out: Array<{ key: string; phrase: string }> = []
  const prefers = (key: string, phrase: string) => out.push({ key, phrase })
  if (policy.white.x !== reference.white.x || policy.white.y !== reference.white.y)
    prefers('white', `white is aimed at ${policy.white.name} instead of ${reference.white.name}`)
  if (isHdr(viewingCase) && policy.hdrToneMapping !== reference.hdrToneMapping)
    prefers(
      'tone-mapping',
      policy.hdrToneMapping === 'roll-off'
        ? 'highlights are rolled off instead of clipped'
        : 'tone mapping follows the scene instead of PQ',
    )
  if (room && policy.tone[room] !== reference.tone[room])
    prefers('tone', `tone follows ${sayTone(policy.tone[room])} instead of ${sayTone(reference.tone[room])}`)
  if (policy.sharpness !== reference.sharpness) prefers('sharpness', 'a little sharpness is kept')
  if (policy.dynamicContrast !== reference.dynamicContrast)
    prefers('dynamic-contrast', 'dynamic contrast is kept where it buys black')
  if (policy.dimming !== reference.dimming)
    prefers('dimming', 'local dimming stands at the strongest contrast')
  if (policy.motion !== reference.motion)
    prefers('motion', policy.motion === 'smooth' ? 'motion is smoothed' : 'judder is taken out')
  return out
}
