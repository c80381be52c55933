import type { Database } from '#db'

/** Keeps so many values by their keys; the one that was asked for longest ago goes first. */
export class LeastRecent<K, V> {
  private readonly kept = new Map<K, V>()
  constructor(private readonly most: number) {}

  get(key: K): V | undefined {
    const value = this.kept.get(key)
    if (value === undefined) return undefined
    this.kept.delete(key)
    this.kept.set(key, value)
    return value
  }

  set(key: K, value: V): void {
    this.kept.delete(key)
    this.kept.set(key, value)
    if (this.kept.size > this.most) this.kept.delete(this.kept.keys().next().value!)
  }
}

/** Something that is kept for each database, and goes with it. */
export const keptFor = <T>(make: () => T): ((db: Database) => T) => {
  const all = new WeakMap<Database, T>()
  return (db) => {
    const known = all.get(db) ?? make()
    all.set(db, known)
    return known
  }
}
