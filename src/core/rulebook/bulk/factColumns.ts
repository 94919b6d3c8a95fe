import type { FactValue } from '@/core/rulebook/language'

/** One fact of many orders: a code for each order, and the value behind each code. */
export interface Column {
  readonly codes: Uint32Array
  readonly values: readonly FactValue[]
}

/** Codes the values of one fact; equal values share a code. Sets of tags are told apart by their text. */
export function codeColumn(count: number, valueAt: (order: number) => FactValue): Column {
  const codes = new Uint32Array(count)
  const values: FactValue[] = []
  const known = new Map<unknown, number>()
  for (let i = 0; i < count; i++) {
    const value = valueAt(i)
    const key = Array.isArray(value) ? `\u0000${value.join('\u0001')}` : value
    let code = known.get(key)
    if (code === undefined) {
      code = values.length
      values.push(value)
      known.set(key, code)
    }
    codes[i] = code
  }
  return { codes, values }
}

/** Columns that are told apart together: a code for each order, and behind each code the codes in the columns. */
export interface Joint {
  readonly codes: Uint32Array
  readonly members: readonly (readonly number[])[]
}

/** Begins a column that several are joined into. */
export const jointOf = ({ codes, values }: Column): Joint => ({ codes, members: values.map((_, code) => [code]) })

// So many pairs of values can be numbered in a table of 256 kB.
const maxPairs = 65_536
/** Whether a column can be joined with those before it: the codes of all must fit into one number. */
export const canJoin = (joint: Joint, { values }: Column): boolean => joint.members.length * values.length <= maxPairs

/** A joint with one column more. */
export function join(joint: Joint, { codes: others, values }: Column): Joint {
  const width = values.length
  const known = new Int32Array(joint.members.length * width).fill(-1)
  const codes = new Uint32Array(others.length)
  const members: number[][] = []
  for (let i = 0; i < others.length; i++) {
    const pair = joint.codes[i]! * width + others[i]!
    let code = known[pair]!
    if (code < 0) {
      code = known[pair] = members.length
      members.push([...joint.members[joint.codes[i]!]!, others[i]!])
    }
    codes[i] = code
  }
  return { codes, members }
}
