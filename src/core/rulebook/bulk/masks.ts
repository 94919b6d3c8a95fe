import type { ReadyRule } from '@/core/rulebook/compile'
import type { Rows } from './columnRows'

/*
 * Masks: a bit for each way in which a rule of a stage can hold, 32 to a word.
 */

/**
 * Bits of a stage: all, those of rules with dates, and those of rules with a rest that is no bit; null where there are
 * none.
 */
export interface Bits {
  readonly all: Int32Array
  readonly dated: Int32Array | null
  readonly withRest: Int32Array | null
  /** For each bit the first of its rule; the bits of a rule stand next to each other. */
  readonly firstOf: Int32Array
}

/**
 * The bits of a stage: all, those that hang on the day, those that hang on what no row can say (null: none), and for
 * each bit the first one of its rule.
 */
export function bitsOf(rules: readonly ReadyRule[], ruleAt: Int32Array, words: number): Bits {
  const [all, dated, withRest] = [new Int32Array(words), new Int32Array(words), new Int32Array(words)]
  const firstOf = new Int32Array(ruleAt.length)
  ruleAt.forEach((rule, bit) => {
    const own = 1 << (bit & 31)
    const { from, until, rest } = rules[rule]!
    firstOf[bit] = bit > 0 && ruleAt[bit - 1] === rule ? firstOf[bit - 1]! : bit
    all[bit >>> 5]! |= own
    if (from !== -Infinity || until !== Infinity) dated[bit >>> 5]! |= own
    if (rest) withRest[bit >>> 5]! |= own
  })
  return { all, dated: orNull(dated), withRest: orNull(withRest), firstOf }
}

const orNull = (bits: Int32Array): Int32Array | null => (bits.some((word) => word !== 0) ? bits : null)
/** The places of the words in which any bit is set; none for null. */
export const wordsWith = (bits: Int32Array | null): Int32Array =>
  Int32Array.from([...(bits ?? [])].flatMap((word, at) => (word === 0 ? [] : [at])))

/**
 * Later bits of rules, by where their words stand in a key, and where each moves to: a rule that holds in several ways
 * keeps its first bit, so that equal rules are equal keys.
 */
export interface Firsts {
  readonly later: Int32Array
  readonly to: Int32Array
}

/**
 * Those that orders themselves settle, in a mask of all words, and those of late words, in the key of an outcome.
 * Where a rule has bits of both they stay: they are few.
 */
export function firstBits(
  { all, firstOf }: Bits,
  late: Int32Array,
): { readonly early: Firsts | null; readonly late: Firsts | null } {
  const of = (words: readonly number[], length: number, placeOf: (word: number) => number): Firsts | null => {
    const [later, to] = [new Int32Array(length), new Int32Array(length * 32)]
    firstOf.forEach((first, bit) => {
      const [word, home] = [bit >>> 5, first >>> 5]
      if (first === bit || !words.includes(word) || !words.includes(home)) return
      later[placeOf(word)]! |= 1 << (bit & 31)
      to[placeOf(word) * 32 + (bit & 31)] = placeOf(home) * 32 + (first & 31)
    })
    return orNull(later) && { later, to }
  }
  return {
    early: of(
      [...all.keys()].filter((word) => !late.includes(word)),
      all.length,
      (word) => word,
    ),
    late: of([...late], late.length + 2, (word) => late.indexOf(word) + 1),
  }
}

/** ANDs three rows of each order into its mask. Written out for all orders at once: this is where rules are matched. */
export function narrowBy(
  a: Rows,
  b: Rows,
  c: Rows,
  first: number,
  until: number,
  words: number,
  masks: Int32Array,
): void {
  // Names of their own: the engine would read an object's anew at each turn.
  const [rowsA, rowsB, rowsC, codesA, codesB, codesC, startOfA, startOfB, startOfC] = [
    a.rows,
    b.rows,
    c.rows,
    a.codes,
    b.codes,
    c.codes,
    a.startOf,
    b.startOf,
    c.startOf,
  ]
  for (let i = first, at = 0; i < until; i++) {
    let inA = startOfA[codesA[i]!]!
    let inB = startOfB[codesB[i]!]!
    let inC = startOfC[codesC[i]!]!
    for (const end = at + words; at < end; at++) masks[at]! &= rowsA[inA++]! & rowsB[inB++]! & rowsC[inC++]!
  }
}

/** Leaves, of bits that say the same, only the one of the rule that stands highest; changes `words` in place. */
export function toFirst(words: Int32Array, { later, to }: Firsts): void {
  for (let word = 0; word < later.length; word++) {
    let bits = words[word]! & later[word]!
    words[word]! ^= bits
    while (bits !== 0) {
      const low = bits & -bits
      bits ^= low
      const first = to[(word << 5) + 31 - Math.clz32(low)]!
      words[first >>> 5]! |= 1 << (first & 31)
    }
  }
}
