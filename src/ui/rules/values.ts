import { home } from '../kit/locale'
import { plainText } from '@/core/order'
import { money, type Money, plainAmount, plainLength, plainWeight } from '@/core/units'
import { asTyped, isCurrency, typedAmount, typedCurrency, typedLength, typedNumber, typedWeight } from '../kit/read'
import {
  type FactType,
  isTextual,
  type ListEntry,
  type Operator,
  takesList,
  type Test,
  type Value,
} from '@/core/rulebook/language'

/** The first value a new test gets; what is still empty is asked for at once, and named by the check. */
export function firstValue(type: FactType, op: Operator): Value | undefined {
  if (op === 'is missing' || op === 'is known') return undefined
  if (type === 'yes/no') return true
  if (type === 'time') {
    if (op === 'weekday is') return []
    if (op === 'time of day between') return ['12:00', '23:59']
    return op === 'before' || op === 'after' ? new Date().toISOString().slice(0, 10) : { hours: 24 }
  }
  if (takesList(op, type)) return []
  if (isTextual(type)) return ''
  const zero = type === 'money' ? money(0, home()) : 0
  return op === 'between' ? ([zero, zero] as unknown as Value) : zero
}

/** Keeps what still makes sense of a value when the operator changes. */
export function changeOperator(test: Test, type: FactType, op: Operator): Test {
  const { value } = test
  if (type === 'time') {
    const first = firstValue(type, op)
    return first === undefined ? { fact: test.fact, op } : { fact: test.fact, op, value: first }
  }
  const kept = keptValue(value, type, op)
  return kept === undefined ? { fact: test.fact, op } : { fact: test.fact, op, value: kept }
}

/** What of a value still makes sense with another operator. */
function keptValue(value: Value | undefined, type: FactType, op: Operator): Value | undefined {
  if (op === 'is missing' || op === 'is known') return undefined
  if (value === undefined) return firstValue(type, op)
  if (takesList(op, type)) return Array.isArray(value) ? (value as Value) : [plainText(value)].filter(Boolean)
  if (op === 'between') return (Array.isArray(value) ? value : [value, value]) as Value
  if (!Array.isArray(value)) return value
  const [first] = value as readonly ListEntry[]
  // A group is no single value.
  return (typeof first === 'object' && 'group' in first ? '' : first) ?? firstValue(type, op)
}

/** The operator that a new test begins with. */
export function firstOperator(type: FactType): Operator {
  if (isTextual(type)) return 'is one of'
  if (type === 'time') return 'weekday is'
  if (type === 'tags') return 'has any'
  return type === 'yes/no' ? 'is' : '≥'
}

/** Reads one quantity of a fact's type; undefined when it is none. */
export function readQuantity(type: FactType, text: string): number | Money | undefined {
  if (type === 'money') {
    const currency = typedCurrency(text) ?? home()
    const minor = isCurrency(currency) ? typedAmount(text, currency) : null
    return minor === null ? undefined : money(minor, currency)
  }
  if (type === 'weight') return typedWeight(text) ?? undefined
  if (type === 'length') return typedLength(text) ?? undefined
  return typedNumber(text)
}

export function writeQuantity(type: FactType, value: unknown): string {
  if (typeof value === 'object' && value !== null && 'minor' in value)
    return `${asTyped(plainAmount(value as Money))} ${(value as Money).currency}`
  if (type === 'weight') return asTyped(plainWeight(Number(value)))
  if (type === 'length') return asTyped(plainLength(Number(value)))
  return asTyped(plainText(value))
}

export const quantityHint = (type: FactType): string => {
  if (type === 'money') return 'An amount such as 25.00, or 25.00 GBP.'
  if (type === 'weight') return 'A weight such as 500 g or 2.5 kg.'
  return type === 'length' ? 'A length such as 60 cm or 800 mm.' : 'A number.'
}

/** A list typed with commas; groups are written by name with `@`. */
export function readList(
  text: string,
  groups: readonly { readonly id: string; readonly name: string }[],
): readonly ListEntry[] | undefined {
  const entries = text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part): ListEntry => {
      const group = groups.find(
        (candidate) =>
          `@${candidate.name}`.toLowerCase() === part.toLowerCase() ||
          candidate.name.toLowerCase() === part.toLowerCase(),
      )
      return group ? { group: group.id } : part
    })
  return entries.length === 0 ? undefined : entries
}
