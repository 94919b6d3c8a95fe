'use client'
import {
  type Condition,
  conditionPhrase,
  factById,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  itemFactById,
  itemFacts,
  type ItemSum,
  itemSums,
  type ItemTest,
  branchOf,
  membersOf,
  type Operator,
  operatorsOf,
  type SavedTest,
  type Stage,
  type Test,
  type Wordings,
} from '@/core/rulebook/language'
import { Chooser, type Choice } from './Chooser'
import { changeOperator, firstOperator, firstValue } from './values'
import { factsAt, hasOperator, readTypedCondition, readTypedTest } from './typedConditions'
import { phraseOf, ValueWord } from './ValueWords'
import { openWhatComes, Word } from './Word'

export interface SentenceContext {
  readonly stage: Stage
  readonly words: Wordings
  /** Values seen in orders, by fact. */
  readonly seen: Readonly<Record<string, readonly Choice[]>>
}

export type Change = (next: Condition | null) => void

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
        members={members.length}
        onAdd={(added) => put([...members, added])}
      />
    </span>
  )
}

function AddWord({
  context,
  inItem,
  label,
  members,
  onAdd,
}: {
  context: SentenceContext
  inItem: boolean
  label: string
  /** How many conditions there are already. */
  members: number
  onAdd: (condition: Condition) => void
}) {
  return (
    <Word
      tone="add"
      next
      opens={label === '…'}
      label={label}
      title={`Add ${inItem ? 'an item condition' : 'a condition'}`}
    >
      {(close, goOn) => (
        <Chooser
          // Another one is typed behind the one that was taken.
          key={members}
          label="Add a condition on"
          choices={addable(context, inItem)}
          hint={inItem ? 'Try: unit weight below 2 kg' : 'Try: order value >= 400'}
          read={(text) => {
            const test = typedCondition(text, context, inItem)
            return test && conditionPhrase(test, context.words, inItem)
          }}
          onDone={goOn && (members > 0 || label !== '…') ? goOn : undefined}
          done={members === 0 ? 'For every order' : 'Nothing more'}
          onChoose={(id) => {
            const test = typedCondition(id, context, inItem)
            onAdd(test ?? newCondition(id, inItem))
            if (goOn && test) return
            if (!test) openWhatComes()
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
      <Word tone="operator" opens={type === 'time'} label={test.op} onRemove={remove}>
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
