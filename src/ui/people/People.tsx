'use client'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Role } from '@/core/people'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { Confirm } from '../kit/Confirm'
import { Select } from '../kit/Field'
import { usePerson } from '../kit/person'
import { useChange } from '../kit/useChange'
import { When } from '../kit/When'
import { ShownOnce } from '../kit/ShownOnce'
import { SetupSheet } from '../setup/SetupSheet'
import { type Badge, BadgeShown } from './BadgeShown'
import { InviteForm } from './InviteForm'

type View = AnswerOf<'GET /api/people'>
type PersonRow = View['people'][number]
/** What is asked before it is done. */
interface Asked {
  readonly what: 'end' | 'link' | 'second' | 'badge'
  readonly person: PersonRow
}

/** Who may sign in, and what each may do. */
export function People({ initial }: { initial: View }) {
  const { data } = useQuery({
    queryKey: ['people'],
    queryFn: () => call('GET /api/people'),
    initialData: initial,
    refetchInterval: 15_000,
  })
  const change = useChange(['people'])
  const [link, setLink] = useState<{ readonly for: string; readonly link: string } | null>(null)
  const [badge, setBadge] = useState<Badge | null>(null)
  const [asked, setAsked] = useState<Asked | null>(null)
  const set = (person: PersonRow, to: { role?: Role; location?: string }): Promise<boolean> => {
    const role = to.role ?? person.role
    const location = role === 'partner' ? (to.location ?? person.location ?? data.locations[0]?.id ?? null) : null
    return change(
      () => call('PUT /api/people', { body: { id: person.id, name: person.name, role, location } }),
      `${person.name}: it holds from their next click`,
    )
  }
  return (
    <SetupSheet at="people" about="Who signs in, and may do what" label="People">
      {link && (
        <ShownOnce
          what={`A link for ${link.for}, good for three days: hand it over in person or by a message that only they read.`}
          secret={link.link}
          onDone={() => setLink(null)}
        />
      )}
      {badge && <BadgeShown badge={badge} onDone={() => setBadge(null)} />}
      <table className="w-full border-t border-hair bg-sheet">
        <thead>
          <tr className="border-b border-hair text-small text-soft">
            <th className="px-3 py-1.5 text-left">Name</th>
            <th className="text-left">E-mail address</th>
            <th className="text-left">Role</th>
            <th className="text-left">Signs in by</th>
            <th className="text-left">Seen last</th>
            <th>
              <span className="sr-only">What can be done</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.people.map((person) => (
            <PersonLine
              key={person.id}
              person={person}
              data={data}
              onSet={(to) => set(person, to)}
              onAsk={(what) => setAsked({ what, person })}
              onBack={() =>
                change(
                  () => call('PUT /api/people', { body: { id: person.id, ended: false } }),
                  `${person.name} may sign in again`,
                )
              }
            />
          ))}
        </tbody>
      </table>
      <InviteForm roles={data.roles} locations={data.locations} onLink={setLink} />
      {asked && (
        <Question
          asked={asked}
          onClose={() => setAsked(null)}
          onConfirm={async () => {
            const { what, person } = asked
            if (what === 'end')
              await change(
                () => call('PUT /api/people', { body: { id: person.id, ended: true } }),
                `${person.name} may not sign in any more`,
              )
            if (what === 'second')
              await change(
                () => call('PUT /api/people', { body: { id: person.id, second: null } }),
                'The second factor is off',
              )
            if (what === 'badge')
              await change(
                () => call('POST /api/people/badges', { body: { id: person.id } }),
                (answer) => setBadge({ ...answer, name: person.name }),
              )
            if (what === 'link')
              await change(
                () => call('POST /api/people/links', { body: { id: person.id } }),
                (answer) => setLink({ for: person.name, link: answer.link }),
              )
            setAsked(null)
          }}
        />
      )}
    </SetupSheet>
  )
}

function PersonLine({
  person,
  data,
  onSet,
  onAsk,
  onBack,
}: {
  person: PersonRow
  data: View
  onSet: (to: { role?: Role; location?: string }) => Promise<boolean>
  onAsk: (what: Asked['what']) => void
  onBack: () => Promise<boolean>
}) {
  const me = usePerson()
  const own = person.email === me?.email
  const role = data.roles.find(({ id }) => id === person.role)
  return (
    <tr className="border-b border-hair/70">
      <td className={`px-3 py-1.5 ${person.endedAt ? 'text-soft line-through' : 'font-semibold'}`}>{person.name}</td>
      <td>{person.email}</td>
      <td className="py-1">
        {own || person.endedAt ? (
          <span className="px-2">{role?.name}</span>
        ) : (
          <span className="flex gap-2">
            <Select
              aria-label={`Role of ${person.name}`}
              title={role?.about}
              value={person.role}
              onChange={(event) => void onSet({ role: event.target.value as Role })}
            >
              {data.roles.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Select>
            {person.role === 'partner' && (
              <Select
                aria-label={`Location of ${person.name}`}
                value={person.location ?? ''}
                onChange={(event) => void onSet({ location: event.target.value })}
              >
                {data.locations.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Select>
            )}
          </span>
        )}
      </td>
      <td className={person.factors.length === 0 ? 'text-wait' : ''}>
        {person.factors.join(', ') || 'link not used yet'}
      </td>
      <td>
        <When at={person.seenAt} />
      </td>
      <td className="py-1 pr-2 text-right whitespace-nowrap">
        {person.endedAt ? (
          <Button kind="quiet" onClick={onBack}>
            Take back
          </Button>
        ) : (
          <>
            {person.factors.includes('code') && (
              <Button kind="quiet" onClick={() => onAsk('second')}>
                Phone lost …
              </Button>
            )}
            <Button kind="quiet" onClick={() => onAsk('badge')}>
              Badge …
            </Button>
            <Button kind="quiet" onClick={() => onAsk('link')}>
              New link …
            </Button>
            {!own && (
              <Button kind="quiet" onClick={() => onAsk('end')}>
                End …
              </Button>
            )}
          </>
        )}
      </td>
    </tr>
  )
}

const questions = {
  end: {
    title: (name: string) => `End ${name}?`,
    action: 'End',
    about:
      'They are signed out everywhere at once, and cannot sign in. What they did stays in the audit; you can take them back.',
  },
  link: {
    title: (name: string) => `Make a new link for ${name}?`,
    action: 'Make a link',
    about:
      'Whoever has the link chooses a new password. When it is used, the old password, the second factor and all sign-ins end.',
  },
  badge: {
    title: (name: string) => `Make a badge for ${name}?`,
    action: 'Make a badge',
    about:
      'Badge and code let them onto the floor for a shift: bench, door, counter, returns, and nothing else. A badge that they have already ends.',
  },
  second: {
    title: (name: string) => `Take the second factor of ${name} off?`,
    action: 'Take it off',
    about:
      'Only when you are sure that it is them who ask: then the password alone is enough, until they set up another one.',
  },
} as const

function Question({
  asked,
  onClose,
  onConfirm,
}: {
  asked: Asked
  onClose: () => void
  onConfirm: () => Promise<void>
}) {
  const { title, action, about } = questions[asked.what]
  return (
    <Confirm
      open
      danger={asked.what === 'end' || asked.what === 'second'}
      title={title(asked.person.name)}
      action={action}
      onClose={onClose}
      onConfirm={onConfirm}
    >
      {about}
    </Confirm>
  )
}
