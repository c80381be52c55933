import { controlOf, showValue, whyRefused } from '#core/display'
import { touchSession } from '#db'
import { bad, good, type Result } from '../base/result'
import type { Beginner } from './begin-run'
import type { Command } from './command'
import type { Decision } from './decision'

/** Writes down what a person saw on a pattern; a value that was judged right is set. */
export const keepVerdict = async (
  begin: Beginner,
  look: Extract<Command, { type: 'visual-check' }>,
  { questions }: Decision,
): Promise<Result<null>> => {
  const { ctx, record, transaction } = begin
  const question = questions.find((q) => q.key === look.question)
  if (!question) return bad('This question is not asked of this display. Nothing was stored.')
  const fixed = question.answers.find((a) => a.key === look.answer)
  if (question.answers.length && !fixed)
    return bad('Choose one of the answers. Nothing was stored.', 'answer')
  const control = question.control ? controlOf(record.sheet.document, question.control) : undefined
  const value = look.value ?? null
  if (control) {
    if (value === null)
      return bad(`Say which value of “${control.label}” is right. Nothing was stored.`, 'value')
    const refused = whyRefused(control, value)
    if (refused) return bad(`${refused} Nothing was stored.`, 'value')
  }
  await ctx.db.visualVerdicts.create(
    {
      sessionId: record.session.id,
      stateId: record.state.id,
      question: question.key,
      pattern: question.pattern,
      controlKey: control?.key ?? null,
      value: control ? value : null,
      answer: fixed ? fixed.key : look.answer || `${showValue(control!, value!)} is right`,
      conditions: look.conditions,
    },
    { transaction },
  )
  await touchSession(ctx.db, record.session.id, transaction)
  return good(null)
}
