/**
 * Things by what bits are set in a mask and by one number besides, each made when its mask is first met. It is looked up
 * for every order and every stage: open addressing over flat arrays, which touches two places in memory.
 */
export interface ByMask<T> {
  /** The thing for the bits that `mask` has now. */
  readonly get: (mask: Int32Array, besides: number) => T
  readonly all: () => readonly T[]
}

export function byMask<T>(words: number, make: (mask: Int32Array, besides: number) => T): ByMask<T> {
  const width = words + 1
  const made: T[] = []
  /** For each place the number of a thing and one more; 0 where there is none. */
  let table = new Int32Array(64)
  /** The number besides and the mask of each thing, one after another. */
  let keys = new Int32Array(32 * width)

  return { get, all: () => made }

  function get(mask: Int32Array, besides: number): T {
    search: for (let at = hashed(besides, mask, 0) & (table.length - 1); ; at = (at + 1) & (table.length - 1)) {
      const number = table[at]!
      if (number === 0) return add(mask, besides, at)
      const key = (number - 1) * width
      if (keys[key] !== besides) continue
      for (let word = 0; word < words; word++) if (keys[key + 1 + word] !== mask[word]) continue search
      return made[number - 1]!
    }
  }

  function add(mask: Int32Array, besides: number, at: number): T {
    const thing = make(mask, besides)
    const key = made.length * width
    if (key === keys.length) keys = doubled(keys)
    keys[key] = besides
    keys.set(mask.subarray(0, words), key + 1)
    made.push(thing)
    table[at] = made.length
    if (made.length * 2 > table.length) rehash()
    return thing
  }

  function hashed(besides: number, bits: Int32Array, from: number): number {
    let hash = besides
    for (let word = 0; word < words; word++) hash = Math.imul(hash ^ bits[from + word]!, 0x9e3779b1) ^ (hash >>> 15)
    return hash ^ (hash >>> 13)
  }

  function rehash(): void {
    table = new Int32Array(table.length * 2)
    for (let number = 1; number <= made.length; number++) {
      const key = (number - 1) * width
      let at = hashed(keys[key]!, keys, key + 1) & (table.length - 1)
      while (table[at] !== 0) at = (at + 1) & (table.length - 1)
      table[at] = number
    }
  }
}

function doubled(old: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(old.length * 2)
  larger.set(old)
  return larger
}
