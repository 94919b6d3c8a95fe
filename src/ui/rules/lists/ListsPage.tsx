'use client'
import type { ReactNode } from 'react'
import type { Wordings } from '@/core/rulebook/language'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { count } from '../../kit/format'
import { useKeys } from '../../kit/useKeys'
import type { Choice } from '../Chooser'
import type { DraftEditor } from '../useDraft'
import { AsFile } from './AsFile'
import { Editions } from './Editions'
import { Groups } from './Groups'
import type { ListPart } from './listParts'
import { PinnedOrders } from './PinnedOrders'
import { SavedConditions } from './SavedConditions'
import { Suggestions } from './Suggestions'

interface Part {
  readonly name: string
  readonly about: string
  readonly count?: number
  readonly body: ReactNode
}

/** What belongs to the rulebook besides its rules, one part at a time. */
export function ListsPage({
  view,
  draft,
  words,
  seen,
  part,
  onPart,
}: {
  view: RulebookView
  draft: DraftEditor
  words: Wordings
  seen: Readonly<Record<string, readonly Choice[]>>
  part: ListPart
  /** Null leads back to the rules. */
  onPart: (part: ListPart | null) => void
}) {
  useKeys({
    Escape: (event) => {
      // A field, or a list that is open, has its own.
      if (!(event.target as HTMLElement).closest('input,textarea,select,[role=combobox]')) onPart(null)
    },
  })
  const { groups, conditions = [] } = draft.rulebook
  const parts: Readonly<Record<ListPart, Part>> = {
    editions: {
      name: 'Editions',
      about: 'What was published, when and by whom. Any of them can become the draft again.',
      count: view.editions,
      body: <Editions draft={draft} />,
    },
    pinned: {
      name: 'Pinned orders',
      about: 'Examples that must come out as they do. A draft that breaks one is published only with a note.',
      count: view.pinned.length,
      body: <PinnedOrders results={view.pinned} />,
    },
    suggestions: {
      name: 'Suggestions',
      about: 'What people keep deciding by hand, as rules to take.',
      body: <Suggestions draft={draft} words={words} />,
    },
    groups: {
      name: 'Groups',
      about: 'Countries, postcodes, SKUs and phrases under one name. A change here changes every rule that uses it.',
      count: groups.length,
      body: <Groups draft={draft} />,
    },
    conditions: {
      name: 'Saved conditions',
      about: 'Conditions under one name, for many rules.',
      count: conditions.length,
      body: <SavedConditions draft={draft} words={words} seen={seen} />,
    },
    file: {
      name: 'File',
      about: 'The draft as a file, YAML or JSON, and a file as the draft.',
      body: <AsFile draft={draft} world={view.world} />,
    },
  }
  const broken = view.pinned.filter((result) => result.broken.length > 0).length
  const { name, about, body } = parts[part]
  return (
    <div className="flex min-h-0 flex-1 border-t border-hair">
      <nav aria-label="Lists and editions" className="w-52 shrink-0 overflow-auto border-r border-hair py-3">
        <ul>
          {(Object.keys(parts) as ListPart[]).map((id) => (
            <li key={id}>
              <button
                aria-current={id === part ? 'page' : undefined}
                onClick={() => onPart(id)}
                className={`flex w-full items-center justify-between px-5 py-1.5 text-left ${id === part ? 'border-r-2 border-act bg-sheet font-semibold' : 'text-soft hover:text-act'}`}
              >
                {parts[id].name}
                {id === 'pinned' && broken > 0 ? (
                  <span className="text-small text-lost">◆ {broken} broken</span>
                ) : (
                  parts[id].count !== undefined && (
                    <span className="text-small text-soft">{count(parts[id].count)}</span>
                  )
                )}
              </button>
            </li>
          ))}
        </ul>
      </nav>
      <div
        className="min-h-0 flex-1 overflow-auto bg-sheet px-6 pt-4 pb-10"
        tabIndex={0}
        role="region"
        aria-label="Lists"
      >
        <div className="max-w-3xl">
          <h2 className="text-lead">{name}</h2>
          <p className="mb-3 text-soft">{about}</p>
          {body}
        </div>
      </div>
    </div>
  )
}
