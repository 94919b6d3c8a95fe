'use client'
import { useState } from 'react'
import { type Group, type GroupKind, groupKinds } from '@/core/rulebook/language'
import { Button } from '../kit/Button'
import { Select, TextInput } from '../kit/Field'
import { count } from '../kit/format'
import type { DraftEditor } from './useDraft'

const hints: Readonly<Record<GroupKind, string>> = {
  countries: 'Codes with blanks between: BE NL LU',
  postcodes: 'One a line: 9000, a prefix 20*, a range 1000-1299',
  SKUs: 'One a line',
  phrases: 'One a line',
}
// More members than this are shown only when asked for.
const many = 300

/** Named lists that conditions point to. */
export function Groups({ draft }: { draft: DraftEditor }) {
  const { groups } = draft.rulebook
  const [name, setName] = useState('')
  const [kind, setKind] = useState<GroupKind>('countries')
  const add = (): void => {
    const id = name
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .slice(0, 60)
    if (!id || groups.some((group) => group.id === id)) return
    draft.change((before) => ({
      ...before,
      groups: [...before.groups, { id, name: name.trim(), ...(kind === 'countries' ? {} : { kind }), members: [] }],
    }))
    setName('')
  }
  return (
    <section>
      <h3 className="mt-4 mb-1 border-b border-hair pb-1 text-small text-soft">
        Groups of countries, postcodes, SKUs and phrases
      </h3>
      {groups.map((group) => (
        <GroupEditor
          key={group.id}
          group={group}
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
      <form
        className="flex gap-2 pt-1"
        onSubmit={(event) => {
          event.preventDefault()
          add()
        }}
      >
        <TextInput
          aria-label="Name of a new group"
          value={name}
          placeholder="Name of a new group"
          onChange={(event) => setName(event.target.value)}
          className="min-w-0 flex-1"
        />
        <Select
          aria-label="What the new group lists"
          value={kind}
          onChange={(event) => setKind(event.target.value as GroupKind)}
        >
          {groupKinds.map((other) => (
            <option key={other}>{other}</option>
          ))}
        </Select>
        <Button type="submit">Add</Button>
      </form>
    </section>
  )
}

function GroupEditor({
  group,
  onChange,
  onDelete,
}: {
  group: Group
  onChange: (members: readonly string[]) => void
  onDelete: () => void
}) {
  const { kind = 'countries', members } = group
  const [open, setOpen] = useState(members.length <= many)
  const read = (text: string): string[] =>
    [
      ...new Set(
        kind === 'countries' ? text.toUpperCase().split(/[\s,;]+/) : text.split(/[\n;,]+/).map((line) => line.trim()),
      ),
    ].filter(Boolean)
  const take = (text: string): void => {
    const next = read(text)
    if (next.join('\n') !== members.join('\n')) onChange(next)
  }
  return (
    <div className="py-1.5">
      <p className="flex items-center gap-2">
        <b className="font-semibold">{group.name}</b>
        <span className="text-soft">
          {count(members.length)} {kind}
        </span>
        <button className="ml-auto min-h-[24px] px-1 text-small text-soft hover:text-lost" onClick={onDelete}>
          delete
        </button>
      </p>
      {!open ? (
        <Button kind="quiet" onClick={() => setOpen(true)}>
          Show and change the list
        </Button>
      ) : kind === 'countries' ? (
        <TextInput
          aria-label={`Members of ${group.name}`}
          key={members.join()}
          defaultValue={members.join(' ')}
          title={hints[kind]}
          className="w-full font-mono text-small"
          onBlur={(event) => take(event.target.value)}
        />
      ) : (
        <textarea
          aria-label={`Members of ${group.name}`}
          key={members.join()}
          defaultValue={members.join('\n')}
          placeholder={hints[kind]}
          rows={Math.min(8, Math.max(2, members.length))}
          className="w-full rounded-[3px] border border-hair bg-sheet px-2 py-1 font-mono text-small"
          onBlur={(event) => take(event.target.value)}
        />
      )}
    </div>
  )
}
