import type { Control, Role } from '#core/display'
import { POLICY_QUESTIONS, type Policy } from '#core/judge'
import type { VisualCheck } from '../facts/asked'
import type { RouteFacts, VisualVerdict } from '../facts/facts'

interface CheckRule {
  readonly key: string
  readonly role?: Role
  readonly pattern: string
  readonly title: string
  readonly ask: string
  readonly answers: VisualCheck['answers']
  readonly caution?: string
}

const CHECKS: readonly CheckRule[] = [
  {
    key: 'overscan',
    pattern: 'border',
    title: 'Picture size',
    ask: 'Are the four outermost lines there, each one pixel wide, on all sides?',
    answers: [
      { key: 'yes', text: 'All four are there' },
      {
        key: 'no',
        text: 'Some are missing or soft',
        wrong: 'The picture is enlarged or scaled: set its size to pixel for pixel.',
      },
    ],
  },
  {
    key: 'sharpness',
    role: 'sharpness',
    pattern: 'rings',
    title: 'Sharpness',
    ask: 'Raise it until light outlines appear beside the lines, then lower it until they are just gone.',
    answers: [],
  },
  {
    key: 'noise-reduction',
    role: 'noise-reduction',
    pattern: 'gradation',
    title: 'Noise reduction',
    ask: 'Choose the lowest value at which clean sources keep their texture: off, unless the source is poor.',
    answers: [],
  },
  {
    key: 'near-black',
    pattern: 'near-black',
    title: 'Shadow detail',
    ask: 'Once your eyes have adapted to the dark: which is the first bar you can tell from black?',
    answers: [
      { key: 'early', text: 'One of the first four' },
      {
        key: 'late',
        text: 'Only a later one',
        wrong: 'The meter sees shadow detail that you do not: check for light in the room.',
      },
    ],
  },
  {
    key: 'near-white',
    pattern: 'near-white',
    title: 'Highlight detail',
    ask: 'Can the last bars below white be told apart, in grey and in each colour?',
    answers: [
      { key: 'yes', text: 'All of them' },
      {
        key: 'no',
        text: 'Some are clipped',
        wrong: 'Highlights are clipped: check the white level again.',
      },
    ],
  },
  {
    key: 'gradation',
    pattern: 'gradation',
    title: 'Gradation',
    ask: 'Do the ramps rise without bands or tinted steps?',
    answers: [
      { key: 'yes', text: 'They are smooth' },
      {
        key: 'no',
        text: 'There are bands',
        wrong: 'Ramps show bands: level-by-level values may be too far apart.',
      },
    ],
  },
  {
    key: 'haloing',
    role: 'dimming',
    pattern: 'highlight',
    title: 'Haloing',
    ask: 'Around the highlight and beside the bars: how much light is there where black should be?',
    answers: [
      { key: 'none', text: 'None that disturbs' },
      { key: 'some', text: 'Some', wrong: 'Haloing is seen: a weaker dimming would show less of it.' },
    ],
  },
  {
    key: 'chroma',
    pattern: 'text',
    title: 'Coloured text',
    ask: 'Is coloured text as sharp as grey text?',
    answers: [
      { key: 'yes', text: 'As sharp' },
      {
        key: 'no',
        text: 'Fringed or soft',
        wrong: 'Chroma is subsampled: check the input format.',
      },
    ],
  },
  {
    key: 'motion',
    role: 'motion',
    pattern: 'motion',
    title: 'Motion',
    ask: 'Choose what the policy asks for: judder removed or kept as filmed, without tearing around moving objects.',
    answers: [],
    caution:
      'Moving and flickering patterns, and dark frames between pictures, can harm photosensitive people: warn everyone in the room, and stop at the first discomfort.',
  },
]

/** The policy's answer to what a question is about, in words. */
const sayPolicy = (policy: Policy, key: string): string => {
  const question = key === 'sharpness' ? 'sharpness' : key === 'motion' ? 'motion' : undefined
  if (!question) return ''
  const answers: Readonly<Record<string, string>> = POLICY_QUESTIONS[question].answers
  return `${policy.name}: ${answers[policy[question]]}.`
}

/** What mends subsampled chroma on this display, by the controls of its inputs. */
const withChromaMend = ({ sheet }: RouteFacts, answers: VisualCheck['answers']): VisualCheck['answers'] => {
  const of = (role: Role) => sheet.controls.find((c) => c.role === role)
  const [label, format] = [of('input-label'), of('socket-format')]
  const ways = [
    'send 4:4:4 from the source',
    ...(label ? [`set “${label.label}” to its entry for a computer`] : []),
    ...(format ? [`set “${format.label}” to the full rate`] : []),
  ]
  return answers.map((a) => (a.wrong ? { ...a, wrong: `Chroma is subsampled: ${ways.join(', and ')}.` } : a))
}

/** The questions that a sheet raises, in order. */
export const visualChecks = (facts: RouteFacts, movable: (c: Control) => boolean): VisualCheck[] =>
  CHECKS.flatMap((rule): VisualCheck[] => {
    const control = rule.role && facts.sheet.controls.find((c) => c.role === rule.role)
    if (rule.role && !control) return []
    const asks = rule.answers.length === 0
    if (asks && control && !movable(control)) return []
    return [
      {
        key: rule.key,
        pattern: rule.pattern,
        title: rule.title,
        ask: rule.ask,
        answers: rule.key === 'chroma' ? withChromaMend(facts, rule.answers) : rule.answers,
        policy: sayPolicy(facts.policy, rule.key),
        ...(asks && control
          ? { control: control.key, begin: control.neutral ?? facts.state[control.key]! }
          : {}),
        ...(rule.caution ? { caution: rule.caution } : {}),
      },
    ]
  })

/** What was answered to a question last, or undefined. */
export const answerTo = (facts: RouteFacts, key: string): VisualVerdict | undefined =>
  facts.verdicts.findLast((v) => v.question === key)
