import { z } from 'zod'

/** A list that nobody changes once it is found. */
export const list = <T extends z.ZodType>(of: T) => z.array(of).readonly()
