import { isByTheDozen } from '#core/guide/compose'
import { type CaseDocument, type GuideDocument, type GuideValue, measuredIn } from '#core/guide/document'
import { sayWhole } from '#core/measure'
import { type FollowStep, followSteps } from './follow'

/** A line of a cue sheet: what is said, what is on the screen meanwhile, and for how long. Times in seconds. */
export interface Cue {
  readonly at: number
  readonly seconds: number
  /** Chapter that it opens; empty where it goes on with the last. */
  readonly chapter: string
  readonly say: string
  readonly show: string
  /** Of the seconds, how long nothing is said so that viewers read and follow. */
  readonly pause: number
}

export interface CueSheet {
  readonly cues: readonly Cue[]
  readonly seconds: number
}

/** Words a minute that people speak a manual at, and the slowest and quickest that a sheet is made for. */
export const SPEECH: Readonly<Record<'usual' | 'slowest' | 'quickest', number>> = {
  usual: 145,
  slowest: 100,
  quickest: 200,
}

/** Pauses, s: to read a value that is shown; for each further step into a menu; after the last line of a chapter. */
const PAUSE = { value: 2.5, step: 1, chapter: 1.5 } as const

const wordsIn = (text: string): number => text.split(/\s+/).filter(Boolean).length

/** A value as it is said: signs are words, units too. */
export const spoken = (text: string): string =>
  text
    .replace(/[−-](?=\d)/g, 'minus ')
    .replace(/\+(?=\d)/g, 'plus ')
    .replace(/\s*%/g, ' percent')
    .replace(/cd\/m²/g, 'candela per square metre')
    .replace(/ΔE ?00|ΔE ITP/g, 'delta E')
    .replace(/\s*›\s*/g, ', ')
    .replace(/(\d)\s*K\b/g, '$1 kelvin')
    .trim()

type Draft = Omit<Cue, 'at' | 'seconds'>

const intro = (guide: GuideDocument, of: CaseDocument): Draft => {
  const { maker, model, sizeInch } = guide.display
  const { firmware } = of.display
  return {
    chapter: 'What this is',
    say: spoken(
      `Settings for the ${maker} ${model}, ${sizeInch} inch: ${of.viewingCase.label}. ${of.method.heading} on one unit, firmware ${firmware}. Yours may differ a little.`,
    ),
    show: `${maker} ${model} ${sizeInch}, ${of.viewingCase.label}, firmware ${firmware}`,
    pause: PAUSE.chapter,
  }
}

/** Steps of one page of the menu that are said together: one, or all values of a level or a colour. */
type Together = readonly [FollowStep, ...FollowStep[]]

const togetherIn = (steps: readonly FollowStep[], byTheDozen: ReadonlySet<string>): Together[] => {
  const out: Array<[FollowStep, ...FollowStep[]]> = []
  for (const step of steps) {
    const last = out.at(-1)
    const samePage = last?.[0].path.join('›') === step.path.join('›')
    if (last && samePage && byTheDozen.has(step.control) && byTheDozen.has(last[0].control)) last.push(step)
    else out.push([step])
  }
  return out
}

/** The page that a chapter is called after: that of a level or a colour is one of many, so the page above it. */
const chapterOf = ([step]: Together, byTheDozen: ReadonlySet<string>): string =>
  step.path.at(byTheDozen.has(step.control) ? -2 : -1) ?? step.path.at(-1) ?? step.label

const changeIn = (steps: Together): string => {
  const [step] = steps
  if (steps.length > 1) return `Set ${steps.map((s) => `${s.label} to ${s.set}`).join(', ')}.`
  return step.set === step.outOfBox
    ? `${step.label} stays at ${step.set}.`
    : `Set ${step.label} to ${step.set}. Its factory default is ${step.outOfBox}.`
}

const stepCue = (steps: Together, before: Together | undefined, chapter: string): Draft => {
  const [step] = steps
  const [from] = before ?? []
  const path = step.path.join(' › ')
  const moves = from?.path.join(' › ') !== path
  // What the display is asked to open, from where it stands.
  const common = from ? from.path.findIndex((p, i) => p !== step.path[i]) : 0
  const open = step.path.slice(common < 0 ? (from?.path.length ?? 0) : common)
  const way = open.length ? open : step.path
  const shared = step.shares ? ` The display keeps one value for this and ${step.shares}.` : ''
  return {
    chapter,
    say: spoken(`${moves && way.length ? `Open ${way.join(', ')}. ` : ''}${changeIn(steps)}${shared}`),
    show: `${[path, steps.length > 1 ? '' : step.label].filter(Boolean).join(' › ')}: ${steps.length > 1 ? steps.map((s) => `${s.label} ${s.set}`).join(', ') : step.set}`,
    pause: PAUSE.value * Math.sqrt(steps.length) + PAUSE.step * (moves ? way.length : 0),
  }
}

/** What is left out of the walk, since it fits one unit alone. */
const leftOut = (values: readonly GuideValue[]): Draft[] => {
  const own = values.filter((v) => v.changed && !v.covers && v.transfer === 'this-unit-only')
  if (own.length === 0) return []
  const many = own.filter((v) => isByTheDozen(v.role)).length
  return [
    {
      chapter: 'What not to copy',
      say: `${own.length === 1 ? 'One more value was' : `${own.length} more values were`} set on our unit and fit${own.length === 1 ? 's' : ''} it alone${many ? ', those of single levels and colours among them' : ''}. Leave yours as they come.`,
      show: 'Not copied: values that fit one unit alone',
      pause: PAUSE.chapter,
    },
  ]
}

const outro = (of: CaseDocument): Draft => {
  const measured = measuredIn(of)
  const [back] = of.goBack ?? []
  if (!measured)
    return {
      chapter: 'How sure it is',
      say: spoken(`Nothing of this was measured: look at test pictures on your own display. ${back ?? ''}`),
      show: of.method.heading,
      pause: PAUSE.chapter,
    }
  const { before, after } = measured
  const light = of.hdr
    ? ''
    : `White goes from ${sayWhole(before.luminance)} to ${sayWhole(after.luminance)} cd/m². `
  return {
    chapter: 'What it does',
    say: spoken(
      `${light}The average error of greys goes from ${before.whiteError.average.toFixed(1)} to ${after.whiteError.average.toFixed(1)}. ${back ?? ''}`,
    ),
    show: `ΔE00 of greys ${before.whiteError.average.toFixed(1)} → ${after.whiteError.average.toFixed(1)}`,
    pause: PAUSE.chapter,
  }
}

/**
 * A walk through the menus for a video: what is said line by line, in an order in which nothing is greyed out, with pauses that are long enough to read and to
 * follow. In: guide, its case, words a minute. Out: lines with their times.
 */
export const cueSheet = (guide: GuideDocument, of: CaseDocument, wordsAMinute = SPEECH.usual): CueSheet => {
  const byTheDozen = new Set(of.values.filter((v) => isByTheDozen(v.role)).map((v) => v.control))
  const steps = togetherIn(followSteps(guide, of), byTheDozen)
  const chapters = steps.map((s) => chapterOf(s, byTheDozen))
  const cautions = (of.cautions ?? []).map(
    (say, i): Draft => ({
      chapter: i ? '' : 'Take care',
      say: spoken(say),
      show: say,
      pause: PAUSE.chapter,
    }),
  )
  const lines = [
    intro(guide, of),
    ...cautions,
    ...steps.map((step, i) =>
      stepCue(step, steps[i - 1], chapters[i] === chapters[i - 1] ? '' : chapters[i]!),
    ),
    ...leftOut(of.values),
    outro(of),
  ]
  let at = 0
  const cues = lines.map((line): Cue => {
    const seconds = Math.round(10 * ((60 * wordsIn(line.say)) / wordsAMinute + line.pause)) / 10
    const cue = { ...line, at, seconds }
    at = Math.round(10 * (at + seconds)) / 10
    return cue
  })
  return { cues, seconds: at }
}

const stamp = (seconds: number): string => {
  const whole = Math.floor(seconds)
  const two = (n: number) => String(n).padStart(2, '0')
  return `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}.${String(Math.round(1000 * (seconds - whole))).padStart(3, '0')}`
}

/** Chapters of a walk as WebVTT (W3C, chapter cues): one cue for each. A chapter ends where the next begins. */
export const chaptersVtt = ({ cues, seconds }: CueSheet): string => {
  const openings = cues.filter((c) => c.chapter)
  const lines = openings.map((c, i) => {
    const end = openings[i + 1]?.at ?? seconds
    // An arrow would be read as times, and a new line as the next cue.
    const name = c.chapter
      .replace(/-->/g, '→')
      .replace(/\s+/g, ' ')
      .replace(/&/g, '&amp;')
      .replace(/</g, '&lt;')
    return `${i + 1}\n${stamp(c.at)} --> ${stamp(end)}\n${name}\n`
  })
  return `WEBVTT\n\n${lines.join('\n')}`
}
