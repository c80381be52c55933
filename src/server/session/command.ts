import { z } from 'zod'
import { ControlValue } from '#core/display'
import { Equipment } from '#core/entry'
import { SeenSignal } from '#core/signal'
import { STEP_KEYS } from '#core/steps'

const whole = z.number().int().positive()
/** Revision of the page that something was decided on; a change that was decided on an older one is not made. */
const seen = whole.optional()

/** What a person at the bench can ask for. `revision` is that of the page that they looked at. */
export const Command = z.discriminatedUnion('type', [
  z.object({ type: z.literal('go'), revision: whole }),
  z.object({ type: z.literal('set'), revision: seen, control: z.string().max(60), value: ControlValue }),
  z.object({ type: z.literal('put-back'), revision: seen }),
  z.object({ type: z.literal('sweep-again'), revision: seen }),
  z.object({
    type: z.literal('leave'),
    revision: seen,
    step: z.enum(STEP_KEYS),
    reason: z.string().trim().min(1).max(200),
  }),
  z.object({ type: z.literal('return'), revision: seen, step: z.enum(STEP_KEYS) }),
  z.object({ type: z.literal('target'), revision: seen, luminance: z.number().finite() }),
  z.object({ type: z.literal('policy'), revision: seen, policy: z.string().max(60) }),
  z.object({ type: z.literal('choose-mode'), revision: seen, mode: z.string().max(60) }),
  z.object({
    type: z.literal('visual-check'),
    revision: seen,
    question: z.string().max(40),
    answer: z.string().trim().max(200),
    value: ControlValue.nullish(),
    conditions: z.string().trim().max(300).default(''),
  }),
  z.object({
    type: z.literal('decide'),
    revision: seen,
    question: z.enum(['colour', 'depth', 'flashes', 'green', 'mapping', 'more']),
    answer: z.string().max(60),
  }),
  z.object({ type: z.literal('accept'), revision: seen, keys: z.array(z.string().max(40)).min(1).max(20) }),
  z.object({ type: z.literal('undo-worse'), revision: seen }),
  /** What the menu shows, where a person has looked: as was believed, or something else. */
  z.object({
    type: z.literal('shows'),
    revision: seen,
    values: z.record(z.string().max(60), ControlValue).refine((v) => Object.keys(v).length <= 500),
  }),
  z.object({ type: z.literal('leave-out'), revision: seen }),
  z.object({ type: z.literal('use-again'), revision: seen, control: z.string().max(60) }),
  z.object({ type: z.literal('unattended'), on: z.boolean() }),
  z.object({ type: z.literal('pause') }),
  z.object({ type: z.literal('resume') }),
  z.object({ type: z.literal('retry') }),
  z.object({ type: z.literal('skip'), revision: seen }),
  z.object({ type: z.literal('cancel') }),
  z.object({ type: z.literal('place-unit') }),
  /** Looks again at what the display holds for each of its cases that are in a guide. */
  z.object({ type: z.literal('read-back') }),
  z.object({
    type: z.literal('sweep'),
    revision: seen,
    sweep: z.string().max(40),
    modes: z.array(z.string().max(60)).max(20).optional(),
  }),
  z.object({ type: z.literal('check-feed'), revision: seen }),
  z.object({ type: z.literal('enough') }),
  z.object({
    type: z.literal('confirm'),
    run: whole,
    task: z.number().int().nonnegative(),
    /** Controls that could not be set, of those that were asked for. */
    except: z.array(z.string().max(60)).max(400).optional(),
    /** How many values were asked for together; left out: the first of them. */
    values: whole.optional(),
  }),
  z.object({
    type: z.literal('type-in'),
    run: whole,
    task: z.number().int().nonnegative(),
    form: z.enum(['XYZ', 'Yxy']),
    text: z.string().max(20_000),
  }),
  z.object({ type: z.literal('take-back') }),
  z.object({
    type: z.literal('note'),
    step: z.enum(STEP_KEYS),
    text: z.string().trim().min(1, 'Write the note first.').max(2000),
  }),
  z.object({ type: z.literal('switched-on'), minutes: z.number().min(0).max(100_000) }),
  z.object({ type: z.literal('seen-signal'), revision: seen, signal: SeenSignal.nullable() }),
  z.object({ type: z.literal('equip'), revision: seen, equipment: Equipment }),
])
export type Command = z.infer<typeof Command>

/** Commands that say what a person decided; from pages they come with the revision that they were decided on. */
const DECIDED: ReadonlySet<Command['type']> = new Set([
  'set',
  'put-back',
  'leave',
  'return',
  'target',
  'policy',
  'choose-mode',
  'visual-check',
  'accept',
  'decide',
  'undo-worse',
  'shows',
  'leave-out',
  'use-again',
  'skip',
  'equip',
  'seen-signal',
])
/** A command as a page sends it. */
export const PageCommand = Command.refine(
  (command) => !DECIDED.has(command.type) || ('revision' in command && command.revision !== undefined),
  { path: ['revision'], message: 'say which revision it was decided on' },
)
