import { isDatabaseAway, isDatabaseFull } from '#db'

/** Whether something failed for want of room: on the database's disk, or on that of files. */
export const isFull = (error: unknown): boolean =>
  isDatabaseFull(error) || (error as NodeJS.ErrnoException).code === 'ENOSPC'

/** Whether something failed because the database is away or too slow. */
export const isAway = (error: unknown): boolean => isDatabaseAway(error)

/** Whether something failed because what it would add is there already. */
export const isTaken = (error: unknown): boolean => (error as Error).name === 'SequelizeUniqueConstraintError'

/** Whether something failed because a row does not hold what it should; a thread tells it by its sentence alone. */
export const isUnreadable = (error: unknown): boolean =>
  /^Row .+ of \w+ cannot be read: /.test((error as Error).message)
