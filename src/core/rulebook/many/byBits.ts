/**
 * Things by the words of a key. They are looked up for every order and every stage: open addressing over flat arrays,
 * which touches two places in memory.
 */
export interface ByBits<T> {
  readonly find: (key: Int32Array) => T | undefined
  /** Adds what `find` did not find; gives it back. */
  readonly add: (key: Int32Array, thing: T) => T
  /** In the order in which they were added. */
  readonly all: readonly T[]
}

export function byBits<T>(words: number): ByBits<T> {
  const all: T[] = []
  /** For each place the number of a thing and one more; 0 where there is none. */
  let table = new Int32Array(64)
  /** The keys of the things, one after another. */
  let keys = new Int32Array(32 * words)

  return { find, add, all }

  function find(key: Int32Array): T | undefined {
    search: for (let place = placeOf(key, 0); ; place = (place + 1) & (table.length - 1)) {
      const number = table[place]!
      if (number === 0) return undefined
      for (let word = 0, at = (number - 1) * words; word < words; word++) if (keys[at++] !== key[word]) continue search
      return all[number - 1]!
    }
  }

  function add(key: Int32Array, thing: T): T {
    if (2 * (all.length + 1) > table.length) grow()
    keys.set(key, all.length * words)
    all.push(thing)
    enter(all.length)
    return thing
  }

  function placeOf(bits: Int32Array, from: number): number {
    let hash = 0
    for (let word = 0; word < words; word++) hash = Math.imul(hash ^ bits[from + word]!, 0x9e3779b1) ^ (hash >>> 15)
    return (hash ^ (hash >>> 13)) & (table.length - 1)
  }

  function enter(number: number): void {
    let place = placeOf(keys, (number - 1) * words)
    while (table[place] !== 0) place = (place + 1) & (table.length - 1)
    table[place] = number
  }

  function grow(): void {
    table = new Int32Array(table.length * 2)
    const longer = new Int32Array(keys.length * 2)
    longer.set(keys)
    keys = longer
    for (let number = 1; number <= all.length; number++) enter(number)
  }
}
