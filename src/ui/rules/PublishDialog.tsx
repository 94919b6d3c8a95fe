'use client'
import { useMemo, useState } from 'react'
import { rulebookDifference, type TrialSummary } from '@/core/rulebook/change'
import type { LogicFinding } from '@/core/rulebook/findings'
import { equalJson, type Rule, type Rulebook } from '@/core/rulebook/language'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { call } from '../kit/api'
import { Confirm } from '../kit/Confirm'
import { count } from '../kit/format'
import { useSay } from '../kit/Toast'
import { Effect } from './trial/Effect'
import type { DraftEditor } from './useDraft'
import { useChange } from '../kit/useChange'

/** What publishing would do, and the note; at once or from a day on. */
export function PublishDialog({
  view,
  draft,
  summary,
  newGaps,
  onClose,
}: {
  view: RulebookView
  draft: DraftEditor
  summary: TrialSummary | null
  newGaps: readonly LogicFinding[]
  onClose: () => void
}) {
  const change = useChange(['rulebook'], ['rerouting'])
  const say = useSay()
  const [note, setNote] = useState('')
  const [from, setFrom] = useState('')
  const { rulebook } = draft
  const differences = useMemo(
    () => (view.inForce ? rulebookDifference(view.inForce.rulebook, rulebook, view.world) : []),
    [view.inForce, view.world, rulebook],
  )
  const errors = draft.findings.filter((finding) => finding.severity === 'error').length
  const broken = view.pinned.filter((result) => result.broken.length > 0).length
  const publish = async (): Promise<void> => {
    const revision = await draft.settled()
    if (revision === null) return say(draft.problem || 'The draft is not saved yet.', { tone: 'bad' })
    await change(
      () => call('POST /api/rules/rulebook/publish', { body: { revision, note, from } }),
      ({ edition }) => {
        say(
          from
            ? `Edition ${edition} comes into force on ${from}`
            : `Edition ${edition} is in force; waiting orders are routed again`,
        )
        onClose()
      },
    )
  }
  return (
    <Confirm
      open
      title="Publish this draft?"
      action={errors > 0 ? 'Correct the errors first' : 'Publish'}
      busy={errors > 0}
      onClose={onClose}
      onConfirm={() => publish()}
    >
      <p>
        {changeCount(rulebook.rules, view.inForce?.rulebook)}. All waiting orders are routed again; bought labels are
        not touched.
      </p>
      {summary && summary.changed > 0 && (
        <p className="mt-2 flex flex-wrap gap-x-3">
          <Effect summary={summary} scope={`${count(summary.orders)} real orders`} />
        </p>
      )}
      {differences.length > 0 && (
        <ul className="mt-2 max-h-56 list-disc overflow-auto pl-5" tabIndex={0} aria-label="What this edition changes">
          {differences.slice(0, 60).map((difference) => (
            <li key={difference.sentence} className="py-0.5">
              {difference.sentence}
            </li>
          ))}
        </ul>
      )}
      {broken > 0 && (
        <p className="mt-2 text-lost">
          {broken === 1 ? 'One pinned order comes' : `${broken} pinned orders come`} out differently. See them under
          Lists and editions; to publish all the same, say why in the note.
        </p>
      )}
      {newGaps.map((gap) => (
        <p key={gap.rule} className="mt-2 text-lost">
          New gap, “{rulebook.rules.find((rule) => rule.id === gap.rule)?.name}”: {gap.sentence} To publish all the
          same, say why in the note.
        </p>
      ))}
      {errors > 0 && (
        <p className="mt-2 text-lost">
          {errors} {errors === 1 ? 'rule has an error' : 'errors'}: they stand in brick under the rules they are about.
        </p>
      )}
      <label className="mt-3 grid gap-1">
        <span className="text-small text-soft">Note for the list of editions</span>
        <input
          autoFocus
          value={note}
          maxLength={500}
          onChange={(event) => setNote(event.target.value)}
          className="border border-hair bg-sheet px-2 py-1"
          placeholder="What this edition changes, and why"
        />
      </label>
      <label className="mt-2 flex items-center gap-2 text-small text-soft">
        In force from{' '}
        <input
          type="date"
          value={from}
          onChange={(event) => setFrom(event.target.value)}
          className="border border-hair bg-sheet px-2 py-1 text-data text-ink"
        />
        {from === '' ? 'at once' : 'the beginning of that day'}
      </label>
    </Confirm>
  )
}

function changeCount(rules: readonly Rule[], inForce: Rulebook | undefined): string {
  const published = new Map((inForce?.rules ?? []).map((rule) => [rule.id, rule]))
  const changed = rules.filter((rule) => published.has(rule.id) && !equalJson(published.get(rule.id), rule)).length
  const added = rules.filter((rule) => !published.has(rule.id)).length
  const gone = [...published.keys()].filter((id) => !rules.some((rule) => rule.id === id)).length
  const parts = [
    [changed, 'changed'],
    [added, 'added'],
    [gone, 'deleted'],
  ]
    .filter(([n]) => Number(n) > 0)
    .map(([n, what]) => `${n} ${what}`)
  return parts.length > 0 ? `Rules: ${parts.join(', ')}` : 'The order of rules or the groups change'
}
