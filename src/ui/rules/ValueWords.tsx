'use client'
import { plainText } from '@/core/order'
import {
  type Fact,
  factById,
  isTextual,
  type ListEntry,
  nameOf,
  needs,
  takesList,
  thingsOf,
  type Test,
  type Value,
  valuePhrase,
  weekdays,
} from '@/core/rulebook/language'
import { Chooser, ListChooser, TextWord, YesNoChooser, type Choice } from './Chooser'
import { quantityHint, readList, readQuantity, writeQuantity } from './values'
import { timeReader } from './timeValues'
import { readTypedValue, type TypedTest } from './typedConditions'
import type { Change, SentenceContext } from './ConditionWords'
import { Word } from './Word'

/** The value of a test as words: typed, chosen, or a list; what is typed may set the operator too. */
export function ValueWord({
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
              <Word
                opens={i === 0}
                next={i === 1}
                label={valuePhrase({ fact: test.fact, op: '≥', value: end }, type, context.words)}
              >
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
            <YesNoChooser
              onTry={set}
              onChoose={(yes) => {
                set(yes)
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
export const phraseOf = (test: Test, type: Fact['type'], { words }: SentenceContext): string =>
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
      <Word next label={label}>
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
    <Word next label={label}>
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
