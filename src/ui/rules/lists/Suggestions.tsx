'use client'
import { useQuery } from '@tanstack/react-query'
import Link from 'next/link'
import type { Suggestion } from '@/core/rulebook/change'
import { actionPhrase, conditionPhrase, decisionById, type Rule, type Wordings } from '@/core/rulebook/language'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { useSay } from '../../kit/Toast'
import type { DraftEditor } from '../useDraft'

/**
 * Patterns in hand pins, offered as rules; taking one puts it at the top of its stage in the draft, where its trial
 * follows.
 */
export function Suggestions({ draft, words }: { draft: DraftEditor; words: Wordings }) {
  const say = useSay()
  const { data } = useQuery({
    queryKey: ['suggestions'],
    queryFn: () => call('GET /api/rules/suggestions'),
    staleTime: 30_000,
  })
  const known = (suggestion: Suggestion): boolean =>
    draft.rulebook.rules.some(
      (rule) =>
        JSON.stringify(rule.when) === JSON.stringify(suggestion.when) &&
        rule.then.some(
          (action) =>
            action.set === suggestion.decision && JSON.stringify(action.to) === JSON.stringify(suggestion.value),
        ),
    )
  const take = ({ decision, value, when }: Suggestion): void => {
    const action = { set: decision, to: value }
    const stage = decisionById.get(decision)!.stage
    const rule: Rule = {
      id: `r-${crypto.randomUUID().slice(0, 8)}`,
      stage,
      name: `As pinned by hand: ${actionPhrase(action, words)}`.slice(0, 120),
      on: true,
      when,
      then: [action],
    }
    draft.change((before) => {
      const first = before.rules.findIndex((other) => other.stage === stage)
      return {
        ...before,
        rules:
          first < 0 ? [...before.rules, rule] : [...before.rules.slice(0, first), rule, ...before.rules.slice(first)],
      }
    })
    say(`“${rule.name}” is now at the top of ${stage} in the draft`, { undo: draft.undo })
  }
  return (
    <section aria-label="Suggestions">
      {data?.length === 0 && (
        <p className="text-soft">
          Nothing yet. When at least three orders are pinned alike, the pattern is offered here as a rule.
        </p>
      )}
      {data?.map((suggestion) => (
        <div key={suggestion.decision + JSON.stringify(suggestion.value)} className="border-b border-hair/60 py-1.5">
          <p>
            When {conditionPhrase(suggestion.when, words)}:{' '}
            <b className="font-semibold">{actionPhrase({ set: suggestion.decision, to: suggestion.value }, words)}</b>
          </p>
          <Orders
            mark="for it"
            tone="text-done"
            list={suggestion.support}
            more={` of ${suggestion.pinned} pinned so`}
          />
          {suggestion.against.length > 0 && (
            <Orders mark="against it" tone="text-wait" list={suggestion.against} more="" />
          )}
          {known(suggestion) ? (
            <p className="text-small text-soft">It is in the draft.</p>
          ) : (
            <Button kind="quiet" onClick={() => take(suggestion)}>
              Take it into the draft
            </Button>
          )}
        </div>
      ))}
    </section>
  )
}

function Orders({ mark, tone, list, more }: { mark: string; tone: string; list: Suggestion['support']; more: string }) {
  return (
    <p className="text-small">
      <b className={tone}>{list.length}</b> {mark}
      {more}:{' '}
      {list.slice(0, 5).map(({ id, number }, i) => (
        <span key={id}>
          {i > 0 && ', '}
          <Link
            className="font-mono text-act underline decoration-hair underline-offset-2"
            href={`/desk?order=${id}&q=${encodeURIComponent(number)}`}
          >
            {number}
          </Link>
        </span>
      ))}
      {list.length > 5 && ` and ${list.length - 5} more`}
    </p>
  )
}
