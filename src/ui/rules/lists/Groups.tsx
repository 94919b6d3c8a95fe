'use client'
import { useState } from 'react'
import { type Group, type GroupKind, groupKinds, usersOfGroup } from '@/core/rulebook/language'
import { Select, TextInput } from '../../kit/Field'
import { countryCodes, countryName } from '../../kit/countryName'
import { count } from '../../kit/format'
import { useSay } from '../../kit/Toast'
import { Tokens } from '../../kit/Tokens'
import type { DraftEditor } from '../useDraft'
import { NewName } from './NewName'

const hints: Readonly<Record<GroupKind, string>> = {
  countries: 'Add a country',
  postcodes: 'Add 9000, a prefix 20*, or a range 1000-1299',
  SKUs: 'Add a SKU',
  phrases: 'Add a phrase',
}

/** Named lists that conditions point to. */
export function Groups({ draft }: { draft: DraftEditor }) {
  const { groups } = draft.rulebook
  const [kind, setKind] = useState<GroupKind>('countries')
  const [search, setSearch] = useState('')
  const words = search.trim().toLowerCase().split(/\s+/).filter(Boolean)
  const found = groups.filter(({ name, members }) =>
    words.every((word) =>
      `${name} ${members.join(' ')} ${members.map(countryName).join(' ')}`.toLowerCase().includes(word),
    ),
  )
  return (
    <section>
      {groups.length > 1 && (
        <TextInput
          aria-label="Search groups"
          placeholder="Search groups and what they list"
          className="mb-1 w-72"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
      )}
      {found.length === 0 && groups.length > 0 && <p className="text-soft">None has these words. Search for less.</p>}
      {found.map((group) => (
        <GroupEditor
          key={group.id}
          group={group}
          users={usersOfGroup(draft.rulebook, group.id)}
          onDelete={() =>
            draft.change((before) => ({ ...before, groups: before.groups.filter((other) => other.id !== group.id) }))
          }
          onChange={(members) =>
            draft.change((before) => ({
              ...before,
              groups: before.groups.map((other) => (other.id === group.id ? { ...other, members } : other)),
            }))
          }
        />
      ))}
      <NewName
        label="Name of a new group"
        taken={groups}
        onAdd={(thing) =>
          draft.change((before) => ({
            ...before,
            groups: [...before.groups, { ...thing, ...(kind === 'countries' ? {} : { kind }), members: [] }],
          }))
        }
      >
        <Select
          aria-label="What the new group lists"
          value={kind}
          onChange={(event) => setKind(event.target.value as GroupKind)}
        >
          {groupKinds.map((other) => (
            <option key={other}>{other}</option>
          ))}
        </Select>
      </NewName>
    </section>
  )
}

function GroupEditor({
  group,
  users,
  onChange,
  onDelete,
}: {
  group: Group
  /** Rules and saved conditions that name it. */
  users: readonly string[]
  onChange: (members: readonly string[]) => void
  onDelete: () => void
}) {
  const { kind = 'countries', members } = group
  const say = useSay()
  const [first] = users
  const remove = (): void =>
    first === undefined
      ? onDelete()
      : say(
          `“${first}”${users.length > 1 ? ` and ${count(users.length - 1)} more name` : ' names'} this group: change ${users.length > 1 ? 'them' : 'it'} first.`,
          { tone: 'bad' },
        )
  return (
    <div className="border-b border-hair/60 py-2">
      <p className="mb-1 flex items-center gap-2">
        <b className="font-semibold">{group.name}</b>
        <span className="text-soft">
          {count(members.length)} {members.length === 1 ? singular[kind] : kind}
        </span>
        <span className="min-w-0 truncate text-small text-soft" title={users.join(', ')}>
          {users.length === 0 ? 'used nowhere' : `used by ${users.join(', ')}`}
        </span>
        <button
          aria-label={`Delete the group ${group.name}`}
          className="ml-auto min-h-[24px] px-1 text-small text-soft hover:text-lost"
          onClick={remove}
        >
          delete
        </button>
      </p>
      <Tokens
        label={`Members of ${group.name}`}
        members={members}
        hint={hints[kind]}
        {...(kind === 'countries'
          ? { nameOf: countryName, choices: countries, take: countryIn }
          : { take: (text: string) => text })}
        onChange={onChange}
      />
    </div>
  )
}

const singular: Readonly<Record<GroupKind, string>> = {
  countries: 'country',
  postcodes: 'postcode',
  SKUs: 'SKU',
  phrases: 'phrase',
}

const countries = countryCodes.map((code) => ({ id: code, name: countryName(code) }))

/** A country's code for what was typed: its code or its name; null for what is none. */
function countryIn(text: string): string | null {
  const wanted = text.toLowerCase()
  return countries.find(({ id, name }) => id.toLowerCase() === wanted || name.toLowerCase() === wanted)?.id ?? null
}
