import { FAILSAFE_SCHEMA, load, Type } from 'js-yaml'
import { isMap, isSeq, LineCounter, parseDocument, stringify, type Document, type Node } from 'yaml'
import { ambiguity, minorDigits, money, type Money, parseAmount, parseLength, parseWeight } from '@/core/units'
import { decisionById, type HoldUntil, type Insert } from './decisionKinds'
import { factById, type FactType, itemFactById, itemSums } from './facts'
import {
  type Action,
  type Condition,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  branchOf,
  membersOf,
  type Rule,
  type Rulebook,
  type Value,
} from './rulebook'
import { isDeeperThan, maxDepth } from './nestingDepth'
import { rulebookSchema } from './rulebookSchema'
import { readUntil, untilPhrase } from './sentence'

/*
 * A rulebook as text: YAML (or JSON, which is YAML too). Quantities carry their units, what is usual is left out, and
 * the order of keys is fixed: what is read and written again is the same to the byte.
 */

export interface TextProblem {
  /** Counted from 1; 0 when no place can be named. */
  readonly line: number
  readonly sentence: string
}

export type ReadRulebook =
  { readonly ok: true; readonly rulebook: Rulebook } | { readonly ok: false; readonly problems: readonly TextProblem[] }

const scalar = (name: string, pattern: RegExp, construct: (text: string) => unknown): Type =>
  new Type(`tag:yaml.org,2002:${name}`, {
    kind: 'scalar',
    resolve: (text: string | null) => pattern.test(text ?? ''),
    construct: (text: string | null) => construct(text ?? ''),
  })
/** The core schema of YAML 1.2 (chapter 10.3.2), as the slower reader has it too. */
const coreSchema = FAILSAFE_SCHEMA.extend({
  implicit: [
    scalar('null', /^(?:~|[Nn]ull|NULL)?$/, () => null),
    scalar('bool', /^(?:[Tt]rue|TRUE|[Ff]alse|FALSE)$/, (text) => text[0] === 't' || text[0] === 'T'),
    scalar('int', /^(?:[-+]?[0-9]+|0o[0-7]+|0x[0-9a-fA-F]+)$/, (text) =>
      text.startsWith('0o') ? parseInt(text.slice(2), 8) : Number(text),
    ),
    scalar(
      'float',
      /^(?:[-+]?(?:\.[0-9]+|[0-9]+(?:\.[0-9]*)?)(?:[eE][-+]?[0-9]+)?|[-+]?\.(?:inf|Inf|INF)|\.(?:nan|NaN|NAN))$/,
      (text) => {
        if (/nan$/i.test(text)) return NaN
        if (/inf$/i.test(text)) return text.startsWith('-') ? -Infinity : Infinity
        return Number(text)
      },
    ),
  ],
})

/** Writes a rulebook as YAML. */
export function writeRulebook(rulebook: Rulebook): string {
  const plain = {
    rulebook: rulebook.name,
    ...(rulebook.groups.length > 0
      ? {
          groups: rulebook.groups.map(({ id, name, kind, members }) => ({
            id,
            name,
            ...(kind ? { kind } : {}),
            members: [...members],
          })),
        }
      : {}),
    ...(rulebook.conditions && rulebook.conditions.length > 0
      ? { conditions: rulebook.conditions.map(({ id, name, when }) => ({ id, name, when: conditionOut(when) })) }
      : {}),
    rules: rulebook.rules.map(ruleOut),
  }
  return stringify(plain, { lineWidth: 0, aliasDuplicateObjects: false })
}

function ruleOut(rule: Rule): Record<string, unknown> {
  return {
    id: rule.id,
    stage: rule.stage,
    name: rule.name,
    ...(rule.on ? {} : { on: false }),
    ...(rule.from ? { from: rule.from } : {}),
    ...(rule.until ? { until: rule.until } : {}),
    ...(rule.finishStage ? { finishStage: true } : {}),
    when: conditionOut(rule.when),
    then: rule.then.map((action) => ({ set: action.set, to: actionOut(action) })),
  }
}

function conditionOut(condition: Condition, inItem = false): unknown {
  if (isSaved(condition)) return { saved: condition.saved }
  if (isItemTest(condition)) return { items: condition.items, where: conditionOut(condition.where, true) }
  if (isItemSum(condition))
    return {
      sum: condition.sum,
      where: conditionOut(condition.where, true),
      op: condition.op,
      value: valueOut(condition.value, itemSums[condition.sum].type),
    }
  if (isTest(condition))
    return {
      fact: condition.fact,
      op: condition.op,
      ...(condition.value === undefined ? {} : { value: valueOut(condition.value, typeOf(condition.fact, inItem)) }),
    }
  const key = branchOf(condition)
  return { [key]: membersOf(condition).map((member) => conditionOut(member, inItem)) }
}

const typeOf = (fact: string, inItem: boolean): FactType => (inItem ? itemFactById : factById).get(fact)?.type ?? 'text'

function valueOut(value: Value, type: FactType): unknown {
  if (Array.isArray(value) && (type === 'money' || type === 'weight' || type === 'length'))
    return value.map((end) => quantityOut(end as number | Money, type))
  if (typeof value === 'number' || (typeof value === 'object' && 'minor' in value)) return quantityOut(value, type)
  return value
}

function quantityOut(value: number | Money, type: FactType): string | number {
  if (typeof value === 'object') return moneyOut(value)
  if (type === 'weight') return value !== 0 && value % 1000 === 0 ? `${value / 1000} kg` : `${value} g`
  if (type === 'length') return value !== 0 && value % 10 === 0 ? `${value / 10} cm` : `${value} mm`
  return value
}

function moneyOut({ minor, currency }: Money): string {
  const digits = minorDigits(currency)
  const text = String(Math.abs(minor)).padStart(digits + 1, '0')
  const amount = digits === 0 ? text : `${text.slice(0, -digits)}.${text.slice(-digits)}`
  return `${minor < 0 ? '-' : ''}${amount} ${currency}`
}

function actionOut({ set, to }: Action): unknown {
  const type = decisionById.get(set)?.type
  if (type === 'grams' && typeof to === 'number') return quantityOut(to, 'weight')
  if (type === 'hold' && isObject(to)) return { reason: to.reason, until: untilPhrase(to.until as HoldUntil) }
  if (type === 'ship day' && isObject(to)) return untilPhrase(to as unknown as HoldUntil)
  if (type === 'size' && Array.isArray(to)) return to.map((side) => quantityOut(side as number, 'length'))
  if (type === 'limits' && isObject(to))
    return {
      ...to,
      ...(typeof to.weight === 'number' ? { weight: quantityOut(to.weight, 'weight') } : {}),
      ...(typeof to.longestSide === 'number' ? { longestSide: quantityOut(to.longestSide, 'length') } : {}),
    }
  if (type === 'inserts' && Array.isArray(to))
    return (to as Insert[]).map(({ name, weight }) => ({ name, weight: quantityOut(weight, 'weight') }))
  if (type === 'money' && isObject(to)) return moneyOut(to as unknown as Money)
  if (type === 'insurance') {
    const insurance = to as { cover?: string; amount?: Money }
    return insurance.cover === 'amount' && insurance.amount ? moneyOut(insurance.amount) : insurance.cover
  }
  if (type === 'picks' && Array.isArray(to))
    return (to as { by: string; service?: string; chance?: number }[]).map((pick) => {
      if (pick.chance !== undefined) return { by: pick.by, chance: pick.chance }
      return pick.by === 'service' ? { service: pick.service } : pick.by
    })
  return to
}

/** Reads a rulebook from YAML or JSON. What is wrong is named with its line; nothing is guessed. */
export function readRulebook(text: string): ReadRulebook {
  const asStored = readStored(text)
  if (asStored) return asStored
  const plain = readPlain(text)
  if (isDeeperThan(plain, 3 * maxDepth)) return tooDeep
  if (plain !== null) {
    let fine = true
    const rulebook = rulebookIn(plain, () => {
      fine = false
    })
    const parsed = fine ? rulebookSchema.safeParse(rulebook) : null
    if (parsed?.success) return { ok: true, rulebook: parsed.data }
  }
  return readWithLines(text)
}

const maxLineLength = 20_000
const tooDeep: ReadRulebook = {
  ok: false,
  problems: [
    {
      line: 0,
      sentence: `Groups of conditions stand more than ${maxDepth} deep within each other: write them flatter, or save some of them by name.`,
    },
  ],
}

/**
 * The JSON form in which rulebooks are stored and exchanged: amounts as whole numbers, under the names of its schema.
 * Null when the text is not in that form.
 */
function readStored(text: string): ReadRulebook | null {
  if (!/^\s{0,100}\{/.test(text)) return null
  let stored: unknown
  try {
    stored = JSON.parse(text)
  } catch {
    return null
  }
  if (!isObject(stored) || 'rulebook' in stored || !('name' in stored) || !('rules' in stored)) return null
  if (isDeeperThan(stored, 3 * maxDepth)) return tooDeep
  const parsed = rulebookSchema.safeParse(stored)
  if (parsed.success) return { ok: true, rulebook: parsed.data }
  return {
    ok: false,
    problems: parsed.error.issues.slice(0, 50).map((issue) => {
      const { path, message } = deepest(issue)
      return { line: 0, sentence: `${path.join(' › ') || 'rulebook'}: ${message}` }
    }),
  }
}

/**
 * The quick way: values without their places. Null when there is anything that wants to be looked at with its place.
 */
function readPlain(text: string): unknown {
  // Anchors and aliases are named as a mistake, not followed.
  if (/(^|[\s[{,:-])[&*][^\s]/m.test(text)) return null
  try {
    return load(text, { schema: coreSchema }) ?? null
  } catch {
    return null
  }
}

function readWithLines(text: string): ReadRulebook {
  // To find what is wrong in such a line takes for ever.
  const long = text.split('\n').findIndex((line) => line.length > maxLineLength)
  if (long >= 0)
    return {
      ok: false,
      problems: [
        {
          line: long + 1,
          sentence: `The line cannot be read, and has more than ${maxLineLength.toLocaleString('en')} characters: break it, to be told where.`,
        },
      ],
    }
  const lines = new LineCounter()
  let document: Document.Parsed
  try {
    document = parseDocument(text, { lineCounter: lines, maxAliasCount: 0, uniqueKeys: true } as never)
  } catch (error) {
    return {
      ok: false,
      problems: [
        { line: 0, sentence: `The text cannot be read: ${error instanceof Error ? error.message : 'unknown'}.` },
      ],
    }
  }
  if (document.errors.some(({ message }) => message.includes('call stack'))) return tooDeep
  if (document.errors.length > 0)
    return {
      ok: false,
      problems: document.errors
        .slice(0, 50)
        .map((error) => ({ line: lines.linePos(error.pos[0]).line, sentence: error.message.split('\n')[0]! })),
    }
  const problems: TextProblem[] = []
  const lineAt = (path: readonly PropertyKey[]): number => lineOf(document, path, lines)
  let root: unknown
  try {
    root = document.toJS({ maxAliasCount: 0 })
  } catch {
    return {
      ok: false,
      problems: [{ line: 0, sentence: 'The text uses YAML aliases, which a rulebook does not have.' }],
    }
  }
  if (isDeeperThan(root, 3 * maxDepth)) return tooDeep
  const plain = rulebookIn(root, (path, sentence) => problems.push({ line: lineAt(path), sentence }))
  if (problems.length > 0) return { ok: false, problems }
  const parsed = rulebookSchema.safeParse(plain)
  if (parsed.success) return { ok: true, rulebook: parsed.data }
  return {
    ok: false,
    problems: parsed.error.issues.slice(0, 50).map((issue) => {
      const { path, message } = deepest(issue)
      return { line: lineAt(path), sentence: `${path.join(' › ') || 'rulebook'}: ${message}` }
    }),
  }
}

interface Issue {
  readonly path: readonly PropertyKey[]
  readonly message: string
  readonly errors?: readonly (readonly Issue[])[]
}

/** Of a union that nothing fitted, the complaint of the member that came furthest: that is what was meant. */
function deepest(issue: Issue): Issue {
  const inner = (issue.errors ?? []).flatMap((branch) =>
    branch.map((error) => deepest({ ...error, path: [...issue.path, ...error.path] })),
  )
  return inner.reduce((best, next) => (next.path.length > best.path.length ? next : best), {
    path: issue.path,
    message: issue.message,
  })
}

type Say = (path: readonly PropertyKey[], sentence: string) => void

function rulebookIn(root: unknown, say: Say): unknown {
  if (!isObject(root)) return say([], 'The text holds no rulebook: it begins with "rulebook:" and has "rules:".')
  const { rulebook, groups, conditions, rules, ...others } = root
  for (const key of Object.keys(others)) say([key], `"${key}" is not known here.`)
  return {
    name: rulebook,
    groups: groups ?? [],
    ...(conditions === undefined || conditions === null ? {} : { conditions: savedIn(conditions, say) }),
    rules: Array.isArray(rules) ? rules.map((rule: unknown, i) => ruleIn(rule, ['rules', i], say)) : rules,
  }
}

function savedIn(conditions: unknown, say: Say): unknown {
  if (!Array.isArray(conditions)) return conditions
  return conditions.map((condition: unknown, i) =>
    isObject(condition)
      ? { ...condition, when: conditionIn(condition.when, ['conditions', i, 'when'], say) }
      : condition,
  )
}

function ruleIn(rule: unknown, path: readonly PropertyKey[], say: Say): unknown {
  if (!isObject(rule)) return rule
  return {
    ...rule,
    on: rule.on ?? true,
    when: conditionIn(rule.when, [...path, 'when'], say),
    then: Array.isArray(rule.then)
      ? rule.then.map((action: unknown, i) => actionIn(action, [...path, 'then', i, 'to'], say))
      : rule.then,
  }
}

function conditionIn(condition: unknown, path: readonly PropertyKey[], say: Say, inItem = false): unknown {
  if (!isObject(condition)) return condition
  for (const key of ['all', 'any', 'none'] as const) {
    const members = condition[key]
    if (Array.isArray(members))
      return {
        ...condition,
        [key]: members.map((member: unknown, i) => conditionIn(member, [...path, key, i], say, inItem)),
      }
  }
  if ('items' in condition) return { ...condition, where: conditionIn(condition.where, [...path, 'where'], say, true) }
  if ('sum' in condition) {
    const type = itemSums[condition.sum as 'lines']?.type ?? 'number'
    return {
      ...condition,
      where: conditionIn(condition.where, [...path, 'where'], say, true),
      value: valueIn(condition.value, type, [...path, 'value'], say),
    }
  }
  if (typeof condition.fact !== 'string' || !('value' in condition)) return condition
  return { ...condition, value: valueIn(condition.value, typeOf(condition.fact, inItem), [...path, 'value'], say) }
}

function valueIn(value: unknown, type: FactType, path: readonly PropertyKey[], say: Say): unknown {
  if (type !== 'money' && type !== 'weight' && type !== 'length') return value
  if (Array.isArray(value)) return value.map((end: unknown, i) => quantityIn(end, type, [...path, i], say))
  return quantityIn(value, type, path, say)
}

function quantityIn(
  value: unknown,
  type: 'money' | 'weight' | 'length',
  path: readonly PropertyKey[],
  say: Say,
): unknown {
  // A bare number has no unit, and nobody guesses one.
  if (typeof value === 'number') return say(path, `${value} needs its unit: write "${withUnit(value, type)}".`)
  if (typeof value !== 'string') return value
  if (type === 'money')
    return (
      moneyIn(value) ?? say(path, ambiguity(value) ?? `"${value}" is no amount with a currency, such as 25.00 EUR.`)
    )
  const parse = type === 'weight' ? parseWeight : parseLength
  const read = /[a-z]\s*$/i.test(value) ? parse(value) : null
  if (read === null && ambiguity(value)) return say(path, ambiguity(value)!)
  return read ?? say(path, `"${value}" is no ${type} with its unit, such as ${type === 'weight' ? '2.5 kg' : '40 cm'}.`)
}

function moneyIn(text: string): Money | null {
  const plain = text.trim()
  const currency = plain.slice(-3)
  const minor = /^[A-Z]{3}$/.test(currency) ? parseAmount(plain.slice(0, -3), currency) : null
  return minor === null ? null : money(minor, currency)
}

function momentIn(text: string, what: string, path: readonly PropertyKey[], say: Say): unknown {
  const moment = readUntil(text)
  if (!moment)
    say(
      path,
      `"${text}" is no ${what}: write a weekday, a day such as 2026-12-24, or a span such as 36 hours or 2 days.`,
    )
  return moment
}

function actionIn(action: unknown, path: readonly PropertyKey[], say: Say): unknown {
  if (!isObject(action) || typeof action.set !== 'string') return action
  const type = decisionById.get(action.set)?.type
  const { to } = action
  if (type === 'grams') return { ...action, to: quantityIn(to, 'weight', path, say) }
  if (type === 'hold' && isObject(to) && typeof to.until === 'string')
    return { ...action, to: { ...to, until: momentIn(to.until, 'moment to hold until', [...path, 'until'], say) } }
  if (type === 'ship day' && typeof to === 'string')
    return { ...action, to: momentIn(to, 'day to send it on', path, say) }
  if (type === 'size' && Array.isArray(to))
    return { ...action, to: to.map((side: unknown, i) => quantityIn(side, 'length', [...path, i], say)) }
  if (type === 'limits' && isObject(to))
    return {
      ...action,
      to: {
        ...to,
        ...('weight' in to ? { weight: quantityIn(to.weight, 'weight', [...path, 'weight'], say) } : {}),
        ...('longestSide' in to
          ? { longestSide: quantityIn(to.longestSide, 'length', [...path, 'longestSide'], say) }
          : {}),
      },
    }
  if (type === 'inserts' && Array.isArray(to))
    return {
      ...action,
      to: to.map((insert: unknown, i) =>
        isObject(insert)
          ? { ...insert, weight: quantityIn(insert.weight, 'weight', [...path, i, 'weight'], say) }
          : insert,
      ),
    }
  if (type === 'money') return { ...action, to: quantityIn(to, 'money', path, say) }
  if (type === 'insurance' && typeof to === 'string') {
    const amount = moneyIn(to)
    return { ...action, to: amount ? { cover: 'amount', amount } : { cover: to } }
  }
  if (type === 'picks' && Array.isArray(to))
    return {
      ...action,
      to: to.map((pick: unknown) => {
        if (typeof pick === 'string') return { by: pick }
        return isObject(pick) && 'service' in pick && !('by' in pick) ? { by: 'service', ...pick } : pick
      }),
    }
  return action
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** The line of the deepest node on a path that is there. */
function lineOf(document: Document.Parsed, path: readonly PropertyKey[], lines: LineCounter): number {
  let node: unknown = document.contents
  let line = 1
  for (const step of path) {
    if (isMap(node)) {
      const pair = node.items.find((item) => (item.key as { value?: unknown } | null)?.value === step)
      const at = (pair?.key as Node | undefined)?.range?.[0]
      if (at === undefined) break
      line = lines.linePos(at).line
      node = pair!.value
    } else if (isSeq(node) && typeof step === 'number') {
      node = node.items[step]
      const at = (node as Node | undefined)?.range?.[0]
      if (at === undefined) break
      line = lines.linePos(at).line
    } else break
  }
  return line
}

/** How a bare number would be written with the unit of its type. */
function withUnit(value: number, type: FactType): string {
  if (type === 'money') return `${value.toFixed(2)} EUR`
  return type === 'weight' ? `${value} g` : `${value} mm`
}
