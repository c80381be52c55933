import { z } from 'zod'
import { numberTyped } from './number'

/** What a menu holds, as far as an entry is checked against it. */
interface Entered {
  readonly label: string
  readonly kind: 'number' | 'choice'
}

/**
 * A value of a control as it is typed. In: control; what is said where it is no value, of what was typed. Out: schema from text to
 * the value.
 */
const typedValue = (control: Entered | undefined, why: (text: string) => string) =>
  z.string().transform((text, context): string | number => {
    const value = control?.kind === 'number' ? numberTyped(text) : text.trim() || undefined
    if (control && value !== undefined) return value
    context.addIssue({ code: 'custom', message: why(text) })
    return z.NEVER
  })

/** A setting as it is entered: a control and its value. In: control of a key; what is said where the value is none. */
export const settingEntry = (
  controlOf: (key: string) => Entered | undefined,
  why: (text: string, control: string) => string,
) =>
  z.object({ control: z.string(), value: z.string() }).transform((entry, context) => {
    const parsed = typedValue(controlOf(entry.control), (text) => why(text, entry.control)).safeParse(
      entry.value,
    )
    if (parsed.success) return { control: entry.control, value: parsed.data }
    for (const { message } of parsed.error.issues)
      context.addIssue({ code: 'custom', path: ['value'], message })
    return z.NEVER
  })
