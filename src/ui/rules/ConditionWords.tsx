'use client'
import { plainText } from '@/core/order'
import {
  type Condition,
  conditionPhrase,
  type Fact,
  factById,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  isTextual,
  itemFactById,
  itemFacts,
  type ItemSum,
  itemSums,
  type ItemTest,
  type ListEntry,
  branchOf,
  membersOf,
  nameOf,
  needs,
  type Operator,
  operatorsOf,
  type SavedTest,
  type Stage,
  takesList,
  thingsOf,
  type Test,
  type Value,
  valuePhrase,
  weekdays,
  type Wordings,
} from '@/core/rulebook/language'
import { Chooser, ListChooser, TextWord, type Choice } from './Chooser'
import {
  changeOperator,
  firstOperator,
  firstValue,
  quantityHint,
  readList,
  readQuantity,
  writeQuantity,
} from './values'
import {
  factsAt,
  hasOperator,
  readTypedCondition,
  readTypedTest,
  readTypedValue,
  type TypedTest,
} from './typedConditions'
import { openWhatComes, Word } from './Word'

export interface SentenceContext {
  readonly stage: Stage
  readonly words: Wordings
  /** Values seen in orders, by fact. */
  readonly seen: Readonly<Record<string, readonly Choice[]>>
}

type Change = (next: Condition | null) => void

/** The conditions of a rule as words of a sentence, each of which opens in place. */
export function ConditionWords({
  condition,
  context,
  onChange,
  inItem = false,
  top = false,
}: {
  condition: Condition
  context: SentenceContext
  onChange: Change
  inItem?: boolean
  top?: boolean
}) {
  if (isTest(condition)) return <TestWords test={condition} context={context} inItem={inItem} onChange={onChange} />
  if (isItemTest(condition)) return <ItemWords test={condition} context={context} onChange={onChange} />
  if (isItemSum(condition)) return <SumWords test={condition} context={context} onChange={onChange} />
  if (isSaved(condition)) return <SavedWord test={condition} context={context} onChange={onChange} />
  const kind = branchOf(condition)
  const members = membersOf(condition)
  const joint = { all: 'and', any: 'or', none: 'nor' }[kind]
  const put = (list: readonly Condition[], as: 'all' | 'any' | 'none' = kind): void =>
    onChange({ [as]: list } as unknown as Condition)
  const bracketed = !top && members.length > 1
  const emptyLabel = top ? 'add a condition' : '…'
  const jointWord = (label: string, key: string) => (
    <Word
      key={key}
      tone="joint"
      label={label}
      title="All of, any of, or none of"
      onRemove={top ? undefined : () => onChange(null)}
    >
      {(close) => (
        <Chooser
          label="How they combine"
          chosen={kind}
          choices={[
            { id: 'all', name: 'all of them (and)' },
            { id: 'any', name: 'any of them (or)' },
            { id: 'none', name: 'none of them (nor)' },
          ]}
          onTry={(id) => put(members, id as 'all')}
          onChoose={(id) => {
            put(members, id as 'all')
            close()
          }}
        />
      )}
    </Word>
  )
  return (
    <span>
      {kind === 'none' && jointWord(members.length > 1 ? 'neither' : 'not', 'head')}
      {kind === 'none' && ' '}
      {bracketed && (
        <span aria-hidden className="text-soft">
          (
        </span>
      )}
      {members.map((member, i) => (
        <span key={i}>
          {i > 0 && <> {jointWord(joint, `j${i}`)} </>}
          <ConditionWords
            condition={member}
            context={context}
            inItem={inItem}
            onChange={(next) =>
              put(
                next === null
                  ? members.filter((_, other) => other !== i)
                  : members.map((before, other) => (other === i ? next : before)),
              )
            }
          />
        </span>
      ))}
      {bracketed && (
        <span aria-hidden className="text-soft">
          )
        </span>
      )}{' '}
      <AddWord
        context={context}
        inItem={inItem}
        label={members.length === 0 ? emptyLabel : '+'}
        onAdd={(added) => put([...members, added])}
      />
    </span>
  )
}

function AddWord({
  context,
  inItem,
  label,
  onAdd,
}: {
  context: SentenceContext
  inItem: boolean
  label: string
  onAdd: (condition: Condition) => void
}) {
  return (
    <Word tone="add" opens={label === '…'} label={label} title={`Add ${inItem ? 'an item condition' : 'a condition'}`}>
      {(close) => (
        <Chooser
          label="Add a condition on"
          choices={addable(context, inItem)}
          hint={inItem ? 'Try: unit weight below 2 kg' : 'Try: order value >= 400'}
          read={(text) => {
            const test = typedCondition(text, context, inItem)
            return test && conditionPhrase(test, context.words, inItem)
          }}
          onChoose={(id) => {
            const test = typedCondition(id, context, inItem)
            if (!test) openWhatComes()
            onAdd(test ?? newCondition(id, inItem))
            close()
          }}
        />
      )}
    </Word>
  )
}

const typedCondition = (text: string, { stage, words }: SentenceContext, inItem: boolean): Test | undefined =>
  readTypedCondition(text, stage, inItem, words)

function addable({ stage, words }: SentenceContext, inItem: boolean): Choice[] {
  if (inItem) return itemFacts.map(({ id, name, description }) => ({ id, name, hint: description }))
  return [
    ...factsAt(stage).map(({ id, name, description }) => ({ id, name, hint: description })),
    { id: ':any', name: 'any item where …', hint: 'at least one item' },
    { id: ':every', name: 'every item where …', hint: 'all items' },
    { id: ':no', name: 'no item where …', hint: 'not one item' },
    ...Object.entries(itemSums).map(([sum, { name }]) => ({
      id: `:sum-${sum}`,
      name: `${name} where …`,
      hint: 'compared with a value',
    })),
    ...(words.conditions ?? []).map(({ id, name }) => ({ id: `:saved-${id}`, name, hint: 'saved condition' })),
    { id: ':all-group', name: 'a group: all of …', hint: 'nested conditions' },
    { id: ':any-group', name: 'a group: any of …', hint: 'nested conditions' },
    { id: ':none-group', name: 'a group: none of …', hint: 'nested conditions' },
  ]
}

function newCondition(id: string, inItem: boolean): Condition {
  if (id === ':all-group') return { all: [] }
  if (id === ':any-group') return { any: [] }
  if (id === ':none-group') return { none: [] }
  if (id.startsWith(':saved-')) return { saved: id.slice(7) }
  if (id.startsWith(':sum-')) {
    const sum = id.slice(5) as ItemSum['sum']
    return { sum, where: { all: [] }, op: '≥', value: firstValue(itemSums[sum].type, '≥')! }
  }
  if (id.startsWith(':')) return { items: id.slice(1) as 'any', where: { all: [] } }
  const type = (inItem ? itemFactById : factById).get(id)!.type
  const op = firstOperator(type)
  const value = firstValue(type, op)
  return value === undefined ? { fact: id, op } : { fact: id, op, value }
}

function ItemWords({ test, context, onChange }: { test: ItemTest; context: SentenceContext; onChange: Change }) {
  const where: Condition = isTest(test.where) ? { all: [test.where] } : test.where
  return (
    <span>
      <Word tone="fact" label={`${test.items} item`} onRemove={() => onChange(null)}>
        {(close) => (
          <Chooser
            label="Which items"
            chosen={test.items}
            choices={[
              { id: 'any', name: 'any item' },
              { id: 'every', name: 'every item' },
              { id: 'no', name: 'no item' },
            ]}
            onTry={(id) => onChange({ ...test, items: id as 'any' })}
            onChoose={(id) => {
              onChange({ ...test, items: id as 'any' })
              close()
            }}
          />
        )}
      </Word>{' '}
      <span className="text-soft">where</span>{' '}
      <ConditionWords
        condition={where}
        context={context}
        inItem
        onChange={(next) => onChange(next === null ? null : { ...test, where: next })}
      />
    </span>
  )
}

function SavedWord({ test, context, onChange }: { test: SavedTest; context: SentenceContext; onChange: Change }) {
  const choices = (context.words.conditions ?? []).map(({ id, name }) => ({ id, name }))
  return (
    <Word label={conditionPhrase(test, context.words)} onRemove={() => onChange(null)}>
      {(close) => (
        <Chooser
          label="Saved condition"
          chosen={test.saved}
          choices={choices}
          onTry={(saved) => onChange({ saved })}
          onChoose={(saved) => {
            onChange({ saved })
            close()
          }}
        />
      )}
    </Word>
  )
}

function SumWords({ test, context, onChange }: { test: ItemSum; context: SentenceContext; onChange: Change }) {
  const { name, type } = itemSums[test.sum]
  const where: Condition = membersOf(test.where).length > 0 || 'all' in test.where ? test.where : { all: [test.where] }
  // The comparison reads and edits like a test on a fact that has the sum as its value.
  const compared: Test = { fact: '', op: test.op, value: test.value }
  const put = (next: Condition | null): void =>
    onChange(next && isTest(next) && next.value !== undefined ? { ...test, op: next.op, value: next.value } : null)
  return (
    <span>
      <Word tone="fact" label={name} onRemove={() => onChange(null)}>
        {(close) => (
          <Chooser
            label="What is summed up"
            chosen={test.sum}
            choices={Object.entries(itemSums).map(([id, sum]) => ({ id, name: sum.name }))}
            onChoose={(id) => {
              const sum = id as ItemSum['sum']
              onChange(
                itemSums[sum].type === type
                  ? { ...test, sum }
                  : { ...test, sum, value: firstValue(itemSums[sum].type, test.op)! },
              )
              close()
            }}
          />
        )}
      </Word>{' '}
      <span className="text-soft">where</span>{' '}
      <ConditionWords
        condition={where}
        context={context}
        inItem
        onChange={(next) => onChange(next === null ? null : { ...test, where: next })}
      />{' '}
      <Word tone="operator" label={test.op}>
        {(close) => (
          <Chooser
            label="Operator"
            chosen={test.op}
            choices={operatorsOf[type]
              .filter((op) => op !== 'is missing' && op !== 'is known')
              .map((op) => ({ id: op, name: op }))}
            onTry={(op) => put(changeOperator(compared, type, op as Operator))}
            onChoose={(op) => {
              put(changeOperator(compared, type, op as Operator))
              close()
            }}
          />
        )}
      </Word>{' '}
      <ValueWord test={compared} type={type} context={context} onChange={put} />
    </span>
  )
}

function TestWords({
  test,
  context,
  inItem,
  onChange,
}: {
  test: Test
  context: SentenceContext
  inItem: boolean
  onChange: Change
}) {
  const fact = (inItem ? itemFactById : factById).get(test.fact)
  const type = fact?.type ?? 'text'
  const remove = (): void => onChange(null)
  /** An operator of the list, or one that was typed together with its value. */
  const withOperator = (chosen: string): Test => {
    if (operatorsOf[type].some((op) => op === chosen)) return changeOperator(test, type, chosen as Operator)
    const typed = readTypedTest(chosen, test.fact, type, context.words)
    return typed ? { fact: test.fact, ...typed } : test
  }
  return (
    <span>
      <Word tone="fact" label={fact?.name ?? `${test.fact} (unknown)`} title={fact?.description} onRemove={remove}>
        {(close) => (
          <Chooser
            label="Fact"
            chosen={test.fact}
            choices={addable(context, inItem).filter((choice) => !choice.id.startsWith(':'))}
            onChoose={(id) => {
              onChange(id === test.fact ? test : newCondition(id, inItem))
              close()
            }}
          />
        )}
      </Word>{' '}
      <Word tone="operator" label={test.op} onRemove={remove}>
        {(close) => (
          <Chooser
            label="Operator"
            chosen={test.op}
            choices={operatorsOf[type].map((op) => ({ id: op, name: op }))}
            read={(text) => {
              const typed = hasOperator(text, type) ? readTypedTest(text, test.fact, type, context.words) : undefined
              return typed && phraseOf({ fact: test.fact, ...typed }, type, context)
            }}
            onTry={(op) => onChange(withOperator(op))}
            onChoose={(op) => {
              onChange(withOperator(op))
              close()
            }}
          />
        )}
      </Word>
      {test.op !== 'is missing' && test.op !== 'is known' && (
        <>
          {' '}
          <ValueWord test={test} type={type} context={context} onChange={onChange} />
        </>
      )}
    </span>
  )
}

function ValueWord({
  test,
  type,
  context,
  onChange,
}: {
  test: Test
  type: Fact['type']
  context: SentenceContext
  onChange: Change
}) {
  const label = valuePhrase(test, type, context.words)
  const set = (value: Value): void => onChange({ ...test, value })
  if (type === 'time') return <TimeWord test={test} label={label} onSet={set} />
  const many = takesList(test.op, type)
  if (test.op === 'between') {
    const ends = (Array.isArray(test.value) ? test.value : [0, 0]) as unknown as readonly [number, number]
    return (
      <>
        {ends.map((end, i) => {
          const setEnd = (value: Value): void =>
            set(ends.map((before, other) => (other === i ? value : before)) as unknown as Value)
          return (
            <span key={i}>
              {i === 1 && <span className="text-soft"> and </span>}
              <Word opens={i === 0} label={valuePhrase({ fact: test.fact, op: '≥', value: end }, type, context.words)}>
                {(close) => (
                  <TextWord
                    label={i === 0 ? 'From' : 'To'}
                    initial={writeQuantity(type, end)}
                    hint={quantityHint(type)}
                    read={(text) => readQuantity(type, text)}
                    onTry={setEnd}
                    onDone={(value) => {
                      setEnd(value)
                      close()
                    }}
                  />
                )}
              </Word>
            </span>
          )
        })}
      </>
    )
  }
  return (
    <Word opens={type !== 'yes/no'} label={label}>
      {(close) => {
        if (type === 'yes/no')
          return (
            <Chooser
              label="Value"
              choices={[
                { id: 'yes', name: 'yes' },
                { id: 'no', name: 'no' },
              ]}
              onTry={(id) => set(id === 'yes')}
              onChoose={(id) => {
                set(id === 'yes')
                close()
              }}
            />
          )
        if (many) return <ListEditor test={test} context={context} onSet={set} close={close} />
        const put = (typed: TypedTest): void => onChange({ fact: test.fact, ...typed })
        if (isTextual(type)) {
          const choices = valuesFor(test, context)
          // A value that is in the list is meant as it is, whatever word it begins with.
          const read = (text: string): TypedTest =>
            (choices.some(({ id }) => id === text) ? undefined : readTypedValue(text, test, type, context.words)) ?? {
              op: test.op,
              value: text,
            }
          return (
            <Chooser
              free
              label="Value"
              choices={choices}
              chosen={plainText(test.value)}
              read={(text) => {
                const typed = readTypedValue(text, test, type, context.words)
                return typed && typed.op !== test.op
                  ? phraseOf({ fact: test.fact, ...typed }, type, context)
                  : undefined
              }}
              onTry={(id) => put(read(id))}
              onChoose={(id) => {
                put(read(id))
                close()
              }}
            />
          )
        }
        return (
          <TextWord
            label="Value"
            initial={writeQuantity(type, test.value)}
            hint={`${quantityHint(type)} Also >= …, below …, 10-20.`}
            read={(text) => readTypedValue(text, test, type, context.words)}
            onTry={put}
            onDone={(typed) => {
              put(typed)
              close()
            }}
          />
        )
      }}
    </Word>
  )
}

/** Operator and value in words, as they are behind the fact. */
const phraseOf = (test: Test, type: Fact['type'], { words }: SentenceContext): string =>
  test.value === undefined ? test.op : `${test.op} ${valuePhrase(test, type, words)}`

/** Values to choose from: all there are, things of the world by their name, or what orders of late had. */
function valuesFor({ fact }: Test, { seen, words }: SentenceContext): readonly Choice[] {
  const things = thingsOf(fact, words)
  if (things.length > 0) return things.map(({ id, name }) => ({ id, name, ...(name === id ? {} : { hint: id }) }))
  if (fact === 'needs') return needs.map((need) => ({ id: need, name: need }))
  return seen[fact] ?? factById.get(fact)?.values?.map((value) => ({ id: value, name: value })) ?? []
}

function ListEditor({
  test,
  context,
  onSet,
  close,
}: {
  test: Test
  context: SentenceContext
  onSet: (value: Value) => void
  close: () => void
}) {
  const entries = (Array.isArray(test.value) ? test.value : []) as readonly ListEntry[]
  const { groups } = context.words
  const text = (entry: ListEntry): string =>
    typeof entry === 'string'
      ? nameOf(test.fact, entry, context.words)
      : (groups.find((group) => group.id === entry.group)?.name ?? entry.group)
  const choices: Choice[] = [
    ...groups.map((group) => ({ id: `@${group.id}`, name: group.name, hint: 'group' })),
    ...valuesFor(test, context),
  ]
  const add = (id: string): void => {
    if (id.startsWith('@')) onSet([...entries, { group: id.slice(1) }])
    else onSet([...entries, ...(readList(id, groups) ?? [])])
  }
  return (
    <ListChooser
      free
      label="Add a value or a group"
      entries={entries.map(text)}
      choices={choices}
      onRemove={(at) => onSet(entries.filter((_, other) => other !== at))}
      onAdd={add}
      close={close}
    />
  )
}

function TimeWord({ test, label, onSet }: { test: Test; label: string; onSet: (value: Value) => void }) {
  if (test.op === 'weekday is') {
    const chosen = (Array.isArray(test.value) ? test.value : []) as readonly string[]
    return (
      <Word opens label={label}>
        {(close) => (
          <ListChooser
            label="Add a weekday"
            entries={chosen}
            choices={weekdays.filter((day) => !chosen.includes(day)).map((day) => ({ id: day, name: day }))}
            onRemove={(at) => onSet(chosen.filter((_, other) => other !== at))}
            onAdd={(day) => onSet([...chosen, day])}
            close={close}
          />
        )}
      </Word>
    )
  }
  const [hint, read] = timeReader(test.op)
  return (
    <Word label={label}>
      {(close) => (
        <TextWord
          label="Value"
          initial={label}
          hint={hint}
          read={read}
          onTry={onSet}
          onDone={(value) => {
            onSet(value)
            close()
          }}
        />
      )}
    </Word>
  )
}

function timeReader(op: Operator): readonly [string, (text: string) => Value | undefined] {
  switch (op) {
    case 'before':
    case 'after':
      return [
        'A day such as 2026-12-24.',
        (text) =>
          /^\d{4}-\d{2}-\d{2}$/.test(text.trim()) && !Number.isNaN(Date.parse(text.trim())) ? text.trim() : undefined,
      ]
    case 'time of day between':
      return [
        'Two times such as 12:00 and 23:59.',
        (text) => {
          const clocks = text.match(/\b([01]?\d|2[0-3]):[0-5]\d\b/g)
          return clocks?.length === 2 ? [clocks[0].padStart(5, '0'), clocks[1]!.padStart(5, '0')] : undefined
        },
      ]
    default:
      return [
        'A time such as 36 hours or 3 days.',
        (text) => {
          const match = /^(\d+(?:\.\d+)?)\s*(h|hours?|d|days?)$/i.exec(text.trim())
          if (!match || Number(match[1]) <= 0) return undefined
          return match[2]!.toLowerCase().startsWith('h') ? { hours: Number(match[1]) } : { days: Number(match[1]) }
        },
      ]
  }
}
