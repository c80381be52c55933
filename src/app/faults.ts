import type { z } from 'zod'

/** The first thing that is wrong with an entry, at its field. In: what a schema says of it; what was kept, in a sentence. */
export const firstFault = ({ issues }: z.ZodError, kept: string): { error: string; field: string } => {
  const { message, path } = issues[0]!
  return { error: `${message.replace(/\.?$/, '.')} ${kept}`, field: path.join('.') }
}
