'use client'

import { zodResolver } from '@hookform/resolvers/zod'
import { useRouter } from 'next/navigation'
import { type BaseSyntheticEvent, useEffect, useState } from 'react'
import { type DefaultValues, type FieldValues, type Path, type UseFormReturn, useForm } from 'react-hook-form'
import type { z } from 'zod'

/** What a form's action answers: what is wrong, and with which field; or what was done, or where to go on. */
export interface Answer {
  readonly error?: string
  readonly field?: string
  readonly done?: string
  readonly href?: string
  /** Nothing is wrong with what was sent: Wexmar could not take it just now. */
  readonly again?: boolean
}

/** An action's answer, also where there was none: then it says so. */
export const answered = async <T extends object>(
  answer: Promise<T>,
): Promise<T | { readonly error: string; readonly again: true }> => {
  try {
    return await answer
  } catch {
    // The server is away, or what came back is no answer of Wexmar’s.
    return {
      error: 'Wexmar did not answer. What you entered is still here; try again in a moment.',
      again: true,
    }
  }
}

/** Said below a form of which something is not right yet. */
const MARKED = 'Nothing was sent: change what is marked. Everything else that was typed stays.'

export interface Entry<In extends FieldValues, Out> {
  readonly form: UseFormReturn<In, unknown, Out>
  /** Submits what was entered where it is whole; else every fault stands at its field, and the first has the focus. */
  readonly submit: (event?: BaseSyntheticEvent) => Promise<void>
  /** It can be submitted now: the page is alive, and nothing is on its way. */
  readonly ready: boolean
  readonly busy: boolean
  /** What the last submission did. */
  readonly done: string
  /** What is wrong with it as a whole. */
  readonly problem: string | undefined
}

/**
 * A form of a schema's shape.
 * In: schema; what it begins with; what is done with a whole entry and the words that were typed for it, and answers what is wrong with it by then. Nothing that was typed is
 * lost by an error.
 */
export const useEntry = <In extends FieldValues, Out>(
  schema: z.ZodType<Out, In>,
  defaultValues: DefaultValues<In>,
  act: (entry: Out, typed: In) => Promise<Answer | undefined>,
): Entry<In, Out> => {
  const router = useRouter()
  const form = useForm<In, unknown, Out>({ resolver: zodResolver(schema), defaultValues })
  const [alive, setAlive] = useState(false)
  const [done, setDone] = useState('')
  useEffect(() => setAlive(true), [])
  const submit = form.handleSubmit(
    async (entry) => {
      setDone('')
      const answer: Answer =
        (await answered((async () => (await act(entry, form.getValues())) ?? {})())) ?? {}
      const { error: message, field, href } = answer
      if (href) return router.push(href)
      if (!message) return setDone(answer.done ?? '')
      if (field && form.getValues(field as Path<In>) !== undefined)
        form.setError(field as Path<In>, { message }, { shouldFocus: true })
      else form.setError('root', { message })
    },
    () => form.setError('root', { message: MARKED }),
  )
  const { isSubmitting, errors } = form.formState
  return {
    form,
    submit,
    ready: alive && !isSubmitting,
    busy: isSubmitting,
    done,
    problem: errors.root?.message,
  }
}

/**
 * A form that adds something to a list, and begins anew once it did.
 * In: schema; what it begins with; the action, which gets the words as they were typed.
 */
export const useAdding = <In extends FieldValues, Out>(
  schema: z.ZodType<Out, In>,
  begin: DefaultValues<In>,
  action: (typed: In) => Promise<Answer>,
): Entry<In, Out> => {
  const router = useRouter()
  const entry = useEntry(schema, begin, async (_, typed) => {
    const answer = await action(typed)
    if (!answer.error) {
      entry.form.reset(begin as In)
      router.refresh()
    }
    return answer
  })
  return entry
}
