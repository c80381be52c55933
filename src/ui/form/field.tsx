'use client'

import { type ReactNode, useId, useRef } from 'react'
import type { FieldValues, Path, PathValue, UseFormReturn } from 'react-hook-form'

/** What a field's input takes: its registration, its names for those who do not see, its look. */
type InputProps = ReturnType<UseFormReturn['register']> & {
  readonly defaultValue: string | undefined
  readonly id: string
  readonly className: string
  readonly 'aria-invalid': boolean | undefined
  readonly 'aria-describedby': string
}

const isFile = (element: HTMLInputElement) => element.type === 'file'

/** A field of a form: label, input, and below it what is wrong or else a hint. */
export const Field = <In extends FieldValues, Out>({
  form,
  name,
  label,
  hint,
  inTable = false,
  children,
}: {
  form: UseFormReturn<In, unknown, Out>
  name: Path<In>
  label: ReactNode
  hint?: string
  /** The table's heads say what it is: the label stands only for those who do not see them. */
  inTable?: boolean
  children: (props: InputProps) => ReactNode
}) => {
  const id = useId()
  const met = useRef(false)
  const { ref, ...registered } = form.register(name)
  const begun: unknown = form.getValues(name)
  const error = form.getFieldState(name, form.formState).error?.message
  return (
    <div>
      <label htmlFor={id} className={inTable ? 'sr-only' : 'mb-1 block text-sm text-soft'}>
        {label}
      </label>
      {children({
        ...registered,
        ref: (element) => {
          // What was typed before the page came alive counts.
          const typed = element && !met.current && !isFile(element) ? String(element.value) : undefined
          met.current ||= element !== null
          ref(element)
          if (typed !== undefined && typeof begun === 'string' && typed !== form.getValues(name))
            form.setValue(name, typed as PathValue<In, Path<In>>)
        },
        defaultValue: typeof begun === 'string' ? begun : undefined,
        id,
        className: 'field',
        'aria-invalid': error ? true : undefined,
        'aria-describedby': `${id}-more`,
      })}
      <p
        id={`${id}-more`}
        role={error ? 'alert' : undefined}
        className={error ? 'mt-1 text-sm text-lamp' : 'mt-1 text-sm text-faint'}
      >
        {error ?? hint}
      </p>
    </div>
  )
}

/** What is wrong with a form as a whole. */
export const FormProblem = ({ text }: { text: string | undefined }) =>
  text ? (
    <p role="alert" className="text-lamp">
      {text}
    </p>
  ) : null

/** The button of a form, with what it did beside it and what is wrong with it below. */
export const FormSubmit = ({
  label,
  ready,
  done,
  problem,
}: {
  label: string
  ready: boolean
  done: string
  problem: string | undefined
}) => (
  <div className="sm:col-span-2">
    <button type="submit" className="button button-quiet" disabled={!ready}>
      {label}
    </button>
    <span role="status" className="ml-4 text-soft">
      {done}
    </span>
    <FormProblem text={problem} />
  </div>
)
