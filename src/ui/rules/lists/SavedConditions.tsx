'use client'
import type { SavedCondition, Wordings } from '@/core/rulebook/language'
import type { Choice } from '../Chooser'
import { ConditionWords } from '../ConditionWords'
import type { DraftEditor } from '../useDraft'
import { NewName } from './NewName'

/** Conditions with a name, that many rules point to. */
export function SavedConditions({
  draft,
  words,
  seen,
}: {
  draft: DraftEditor
  words: Wordings
  seen: Readonly<Record<string, readonly Choice[]>>
}) {
  const conditions = draft.rulebook.conditions ?? []
  const put = (change: (list: readonly SavedCondition[]) => readonly SavedCondition[]): void =>
    draft.change((before) => ({ ...before, conditions: change(before.conditions ?? []) }))
  return (
    <section>
      {conditions.map((condition) => (
        <div key={condition.id} className="group border-b border-hair/60 py-1.5">
          <p className="flex items-center gap-2">
            <b className="font-semibold">{condition.name}</b>
            <button
              className="ml-auto min-h-[24px] px-1 text-small text-soft hover:text-lost"
              onClick={() => put((list) => list.filter((other) => other.id !== condition.id))}
            >
              delete
            </button>
          </p>
          <p className="leading-[1.75]">
            <ConditionWords
              top
              condition={condition.when}
              context={{ stage: 'triage', words, seen }}
              onChange={(when) =>
                put((list) =>
                  list.map((other) => (other.id === condition.id ? { ...other, when: when ?? { all: [] } } : other)),
                )
              }
            />
          </p>
        </div>
      ))}
      <NewName
        label="Name of a new saved condition"
        taken={conditions}
        onAdd={(thing) => put((list) => [...list, { ...thing, when: { all: [] } }])}
      />
    </section>
  )
}
