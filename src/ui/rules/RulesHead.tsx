'use client'
import type { RefObject } from 'react'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { call } from '../kit/api'
import { useAnnounced } from '../kit/Announcer'
import { Button } from '../kit/Button'
import { TextInput } from '../kit/Field'
import { count, shortDay } from '../kit/format'
import { ScreenHead } from '../kit/Screen'
import type { SaveState } from './draftSaver'
import type { DraftEditor } from './useDraft'

const saveWords: Readonly<Record<SaveState, string>> = {
  saved: 'Draft saved',
  saving: 'Saving …',
  unsaved: 'Not saved yet',
  conflict: 'Changed by somebody else',
}

/** What is in force, whether the draft is saved, and what can be done with the whole of it. */
export function RulesHead({
  view,
  draft,
  search,
  field,
  onSearch,
  warned,
  only,
  onOnly,
  lists,
  onLists,
  differs,
  onPublish,
}: {
  view: RulebookView
  draft: DraftEditor
  search: string
  field: RefObject<HTMLInputElement | null>
  onSearch: (text: string) => void
  /** Rules with findings; null while they are looked for. */
  warned: number | null
  only: boolean
  onOnly: (only: boolean) => void
  /** Whether *Lists and editions* is open in place of the rules. */
  lists: boolean
  onLists: (open: boolean) => void
  differs: boolean
  onPublish: () => void
}) {
  const broken = view.pinned.filter((result) => result.broken.length > 0).length
  return (
    <ScreenHead title="Rules" about={<About view={view} draft={draft} />}>
      {!lists && (
        <>
          <TextInput
            ref={field}
            type="search"
            aria-label="Search rules, facts and values"
            placeholder="Search the rules"
            value={search}
            onChange={(event) => onSearch(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== 'Escape') return
              onSearch('')
              event.currentTarget.blur()
            }}
            className="w-56"
          />
          <button
            aria-pressed={only}
            onClick={() => onOnly(!only)}
            className={`min-h-[24px] whitespace-nowrap px-1.5 text-small ${toneOf(only, warned ?? 0)}`}
          >
            {warned === null ? 'looking for findings …' : `△ ${count(warned)} with findings`}
          </button>
        </>
      )}
      <Button kind="quiet" disabled={!draft.canUndo} onClick={draft.undo}>
        Undo
      </Button>
      <Button kind="quiet" disabled={!draft.canRedo} onClick={draft.redo}>
        Redo
      </Button>
      <Button onClick={() => onLists(!lists)} aria-pressed={lists}>
        {lists ? 'Back to the rules' : 'Lists and editions'}
        {broken > 0 && (
          <span
            className="rounded-full bg-wait-mark px-1.5 text-small font-bold text-[#231a2e]"
            aria-label={`${broken} pinned orders broken`}
          >
            {broken}
          </span>
        )}
      </Button>
      <Button kind="filled" calls="POST /api/rules/rulebook/publish" disabled={!differs} onClick={onPublish}>
        Publish
      </Button>
    </ScreenHead>
  )
}

function toneOf(only: boolean, warned: number): string {
  if (only) return 'bg-wait-soft text-wait'
  return warned > 0 ? 'text-wait hover:bg-wait-soft' : 'text-soft'
}

function About({ view: { inForce, next, routing }, draft }: { view: RulebookView; draft: DraftEditor }) {
  return (
    <>
      {inForce ? `Edition ${inForce.number} in force` : 'Nothing published yet'}
      {next && ` · edition ${next.number} from ${shortDay(next.inForceAt)}`} ·{' '}
      <span className={draft.state === 'conflict' ? 'text-lost' : ''}>{saveWords[draft.state]}</span>
      {routing && routing.state === 'queued' && (
        <span className="text-wait">
          {' '}
          · routing again {routing.total > 0 ? `${count(routing.done)} of ${count(routing.total)}` : '…'}
        </span>
      )}
    </>
  )
}

/** Why the draft is not saved; where somebody else has changed it, theirs can be loaded. */
export function DraftProblem({ draft, view: newest }: { draft: DraftEditor; view: RulebookView }) {
  const overtaken = draft.state === 'saved' && newest.revision > draft.revision
  if (!draft.problem && !overtaken) return null
  const loadTheirs = async (): Promise<void> => {
    const view = await call('GET /api/rules/rulebook')
    draft.replace(view.draft, view.revision, view.findings)
  }
  return (
    <p role="alert" className="flex items-center gap-3 bg-lost-soft px-5 py-2 text-lost">
      {overtaken ? 'Somebody else has changed the draft.' : draft.problem}
      {draft.state === 'unsaved' && (
        <Button kind="danger" onClick={() => draft.settled()}>
          Try again
        </Button>
      )}
      {(draft.state === 'conflict' || overtaken) && (
        <Button kind="danger" onClick={() => loadTheirs()}>
          Load theirs (mine stays under Undo)
        </Button>
      )}
    </p>
  )
}

/** How many rules a search or the filter leaves, and the way back to all. */
export function Narrowed({
  found,
  of,
  search,
  only,
  onAll,
}: {
  found: number
  of: number
  search: string
  only: boolean
  onAll: () => void
}) {
  const announced = useAnnounced<HTMLParagraphElement>()
  if (search === '' && !only) return null
  return (
    <p ref={announced} className="border-b border-hair px-5 py-1 text-soft">
      {count(found)} of {count(of)} rules{search !== '' && ` with “${search}”`}
      {only && ' with findings'}{' '}
      <button className="min-h-[24px] px-1.5 text-act hover:bg-act-soft" onClick={onAll}>
        Show all
      </button>
    </p>
  )
}
