import type { Database } from '#db'

/** Something that is kept for each database, and goes with it. */
export const keptFor = <T>(make: () => T): ((db: Database) => T) => {
  const all = new WeakMap<Database, T>()
  return (db) => {
    const known = all.get(db) ?? make()
    all.set(db, known)
    return known
  }
}
