'use client'
import { useQuery } from '@tanstack/react-query'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Plain } from '../kit/Screen'
import { useBarred } from '../kit/person'
import { Tick } from '../kit/Tick'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'
import { When } from '../kit/When'
import { SetupSheet } from '../setup/SetupSheet'

type View = AnswerOf<'GET /api/people/proposals'>
type Proposal = View['proposals'][number]

/** What one person has begun and another one has to agree to; the owner says for what. */
export function ToAgree({ initial }: { initial: View }) {
  const { data } = useQuery({
    queryKey: ['proposals'],
    queryFn: () => call('GET /api/people/proposals'),
    initialData: initial,
    refetchInterval: 10_000,
  })
  return (
    <SetupSheet at="agree" about="What waits for a second person" label="To agree">
      <Wanted view={data} />
      {data.proposals.length === 0 ? (
        <Plain title="Nothing waits for a second person">
          {data.wanted.length === 0
            ? 'The owner says above what two people have to agree on.'
            : 'What is begun stands here until somebody else agrees.'}
        </Plain>
      ) : (
        <ul className="mt-4 max-w-5xl border-t border-hair bg-sheet">
          {data.proposals.map((proposal) => (
            <ProposalItem key={proposal.id} proposal={proposal} />
          ))}
        </ul>
      )}
    </SetupSheet>
  )
}

function Wanted({ view }: { view: View }) {
  const change = useChange(['proposals'])
  const barred = useBarred()('PUT /api/people/proposals')
  const set = (id: string, on: boolean): Promise<boolean> =>
    change(
      () =>
        call('PUT /api/people/proposals', {
          body: {
            version: view.version,
            kinds: on ? [...view.wanted, id] : view.wanted.filter((one) => one !== id),
          },
        }),
      on ? 'From now on two people are wanted for it' : 'One person is enough for it again',
    )
  return (
    <fieldset className="flex flex-wrap gap-x-6 gap-y-1" title={barred ?? undefined}>
      <legend className="mb-1 text-lead">Two people for</legend>
      {view.kinds.map(({ id, name }) => (
        <Tick
          key={id}
          label={name}
          on={view.wanted.includes(id)}
          disabled={barred !== null}
          onChange={(on) => void set(id, on)}
        />
      ))}
    </fieldset>
  )
}

const states = {
  waits: { words: 'waits', tone: 'text-wait' },
  agreed: { words: 'agreed, under way', tone: 'text-wait' },
  done: { words: 'done', tone: 'text-done' },
  failed: { words: 'could not be done', tone: 'text-lost' },
  refused: { words: 'refused', tone: 'text-soft' },
} as const

function ProposalItem({ proposal }: { proposal: Proposal }) {
  const change = useChange(['proposals'], ['line'])
  const say = useSay()
  const settle = (agree: boolean): Promise<boolean> =>
    change(
      () => call('POST /api/people/proposals', { body: { id: proposal.id, agree } }),
      ({ outcome }) => say(outcome),
    )
  const { words, tone } = states[proposal.state]
  const open = proposal.state === 'waits' || proposal.state === 'agreed'
  return (
    <li className="border-b border-hair/70 px-3 py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <b className="font-semibold first-letter:uppercase">{proposal.what}</b>
        <span className="text-soft">
          by {proposal.by}, <When at={proposal.madeAt} />
        </span>
        <span className={tone}>
          {words}
          {proposal.agreedBy && `, ${proposal.agreedBy}`}
        </span>
        {open && (
          <span className="ml-auto flex gap-2">
            <Button
              disabled={proposal.barred !== null}
              title={proposal.barred ?? undefined}
              onClick={() => settle(true)}
            >
              Agree
            </Button>
            {proposal.state === 'waits' && (
              <Button kind="quiet" onClick={() => settle(false)}>
                {proposal.barred === null ? 'Refuse' : 'Take back'}
              </Button>
            )}
          </span>
        )}
      </div>
      {proposal.barred && open && <p className="text-small text-soft">{proposal.barred}</p>}
      {proposal.state === 'failed' && <p className="text-lost">{proposal.outcome}</p>}
      <pre className="mt-1 max-h-40 overflow-auto font-mono text-small whitespace-pre-wrap text-soft" tabIndex={0}>
        {JSON.stringify(proposal.shown)}
      </pre>
    </li>
  )
}
