/**
 * A memory for what is reckoned from something that never changes: the same question about the same object is answered once. The route
 * is planned anew after every reading, and most of what it rests on is as it was.
 * In: how many answers are kept of one object, the newest used. Out: function of object, key of the question, and how to answer it.
 */
export const rememberFor = <O extends object, T>(most: number) => {
  const memories = new WeakMap<O, Map<string, T>>()
  return (object: O, key: string, answer: () => T): T => {
    const memory = memories.get(object) ?? new Map<string, T>()
    memories.set(object, memory)
    const known = memory.get(key)
    if (known !== undefined) {
      memory.delete(key)
      memory.set(key, known)
      return known
    }
    const found = answer()
    memory.set(key, found)
    if (memory.size > most) memory.delete(memory.keys().next().value!)
    return found
  }
}

const identities = new WeakMap<object, number>()
let lastIdentity = 0
/** A number for a list that is never changed in place; all empty lists are one. */
export const identityOf = (object: readonly unknown[]): number => {
  if (object.length === 0) return 0
  const known = identities.get(object)
  if (known !== undefined) return known
  identities.set(object, ++lastIdentity)
  return lastIdentity
}
