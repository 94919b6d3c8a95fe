'use client'
import { useState } from 'react'
import { type Difference, rulebookDifference } from '@/core/rulebook/change'
import { readRulebook, type Rulebook, type TextProblem, writeRulebook } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { Button } from '../../kit/Button'
import { useSay } from '../../kit/Toast'
import type { DraftEditor } from '../useDraft'

type Read =
  | { readonly kind: 'wrong'; readonly name: string; readonly problems: readonly TextProblem[] }
  | {
      readonly kind: 'read'
      readonly name: string
      readonly rulebook: Rulebook
      readonly differences: readonly Difference[]
    }

/** The draft as a file, and a file as the draft: what it would change is read first. */
export function AsFile({ draft, world }: { draft: DraftEditor; world: World }) {
  const say = useSay()
  const [read, setRead] = useState<Read | null>(null)
  const save = (): void => {
    const url = URL.createObjectURL(new Blob([writeRulebook(draft.rulebook)], { type: 'text/yaml' }))
    const link = document.createElement('a')
    link.href = url
    link.download = 'rulebook.yaml'
    link.click()
    URL.revokeObjectURL(url)
  }
  const open = async (file: File | undefined): Promise<void> => {
    if (!file) return
    const result = readRulebook(await file.text())
    setRead(
      result.ok
        ? {
            kind: 'read',
            name: file.name,
            rulebook: result.rulebook,
            differences: rulebookDifference(draft.rulebook, result.rulebook, world),
          }
        : { kind: 'wrong', name: file.name, problems: result.problems },
    )
  }
  return (
    <section aria-label="As a file">
      <p className="flex items-center gap-2 py-1">
        <Button onClick={save}>Save the draft as a file</Button>
        <label className="relative cursor-pointer rounded-[3px] border border-act px-3 py-1 text-act focus-within:outline-2 hover:bg-act-soft">
          Read a file …
          <input
            type="file"
            accept=".yaml,.yml,.json"
            aria-label="Read a rulebook from a file"
            className="sr-only"
            onChange={(event) => {
              void open(event.target.files?.[0])
              event.target.value = ''
            }}
          />
        </label>
      </p>
      {read?.kind === 'wrong' && (
        <div role="alert" className="bg-lost-soft p-2 text-lost">
          <p>{read.name} cannot be read; the draft stays as it is.</p>
          <ul className="list-disc pl-5">
            {read.problems.slice(0, 8).map((problem) => (
              <li key={`${problem.line} ${problem.sentence}`}>
                {problem.line > 0 && `Line ${problem.line}: `}
                {problem.sentence}
              </li>
            ))}
          </ul>
        </div>
      )}
      {read?.kind === 'read' && (
        <div className="bg-tint p-2">
          <p>
            {read.differences.length === 0
              ? `${read.name} says what the draft says.`
              : `${read.name} would change the draft so:`}
          </p>
          <ul className="max-h-56 list-disc overflow-auto pl-5" tabIndex={0} aria-label="What the file changes">
            {read.differences.slice(0, 80).map((difference) => (
              <li key={difference.sentence} className="py-0.5">
                {difference.sentence}
              </li>
            ))}
          </ul>
          {read.differences.length > 80 && <p className="text-soft">and {read.differences.length - 80} more</p>}
          <p className="mt-1 flex gap-2">
            {read.differences.length > 0 && (
              <Button
                onClick={() => {
                  draft.change(() => read.rulebook)
                  setRead(null)
                  say(`${read.name} is the draft now`, { undo: draft.undo })
                }}
              >
                Take it as the draft
              </Button>
            )}
            <Button kind="quiet" onClick={() => setRead(null)}>
              Leave it
            </Button>
          </p>
        </div>
      )}
    </section>
  )
}
