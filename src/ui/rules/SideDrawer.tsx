'use client'
import { useQueryClient } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { useState } from 'react'
import type { SavedCondition, Wordings } from '@/core/rulebook/language'
import type { PackagePreset } from '@/core/packing'
import { formatLength, formatWeight } from '@/core/units'
import { typedLength, typedWeight } from '../kit/read'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { call, sentenceOf } from '../kit/api'
import { Button } from '../kit/Button'
import { TextInput } from '../kit/Field'
import { shortTime } from '../kit/format'
import { useSay } from '../kit/Toast'
import type { Choice } from './Chooser'
import { ConditionWords } from './ConditionWords'
import { AsFile } from './AsFile'
import { Groups } from './Groups'
import { PinnedOrders } from './PinnedOrders'
import { Suggestions } from './Suggestions'
import type { DraftEditor } from './useDraft'

/** What stands beside the rules: examples, lists they point to, suggestions, the file, and the editions there were. */
export function SideDrawer({
  view,
  draft,
  words,
  seen,
  onClose,
}: {
  view: RulebookView
  draft: DraftEditor
  words: Wordings
  seen: Readonly<Record<string, readonly Choice[]>>
  onClose: () => void
}) {
  return (
    <aside
      aria-label="Groups, presets and editions"
      className="flex w-[380px] shrink-0 flex-col border-l border-hair bg-sheet"
    >
      <header className="flex items-center border-b border-hair px-4 py-3">
        <h2 className="text-lead">Lists and editions</h2>
        <button aria-label="Close" className="ml-auto p-1 text-soft hover:text-act" onClick={onClose}>
          <X className="size-4" />
        </button>
      </header>
      <div className="min-h-0 flex-1 overflow-auto px-4 pb-8" tabIndex={0} role="region" aria-label="Lists">
        <PinnedOrders results={view.pinned} />
        <SavedConditions draft={draft} words={words} seen={seen} />
        <Suggestions draft={draft} words={words} />
        <Groups draft={draft} />
        <Presets view={view} />
        <AsFile draft={draft} world={view.world} />
        <Editions view={view} draft={draft} />
      </div>
    </aside>
  )
}

const head = 'mt-4 mb-1 border-b border-hair pb-1 text-small text-soft'

function SavedConditions({
  draft,
  words,
  seen,
}: {
  draft: DraftEditor
  words: Wordings
  seen: Readonly<Record<string, readonly Choice[]>>
}) {
  const conditions = draft.rulebook.conditions ?? []
  const [name, setName] = useState('')
  const put = (change: (list: readonly SavedCondition[]) => readonly SavedCondition[]): void =>
    draft.change((before) => ({ ...before, conditions: change(before.conditions ?? []) }))
  const add = (): void => {
    const id = name
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .slice(0, 60)
    if (!id || conditions.some((condition) => condition.id === id)) return
    put((list) => [...list, { id, name: name.trim(), when: { all: [] } }])
    setName('')
  }
  return (
    <section>
      <h3 className={head}>Saved conditions, for many rules</h3>
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
      <form
        className="flex gap-2 pt-1"
        onSubmit={(event) => {
          event.preventDefault()
          add()
        }}
      >
        <TextInput
          aria-label="Name of a new saved condition"
          value={name}
          placeholder="Name of a new saved condition"
          onChange={(event) => setName(event.target.value)}
          className="flex-1"
        />
        <Button type="submit">Add</Button>
      </form>
    </section>
  )
}

function Presets({ view }: { view: RulebookView }) {
  const client = useQueryClient()
  const say = useSay()
  const [form, setForm] = useState({ name: '', inner: '', tare: '', limit: '' })
  const { presets } = view.world
  const put = async (next: readonly PackagePreset[]): Promise<boolean> => {
    try {
      await call('PUT /api/dispatch/presets', { body: { presets: next } })
      await client.invalidateQueries({ queryKey: ['rulebook'] })
      return true
    } catch (error) {
      say(sentenceOf(error), { tone: 'bad' })
      return false
    }
  }
  const remove = async (preset: PackagePreset): Promise<void> => {
    if (await put(presets.filter((other) => other.id !== preset.id)))
      say(`Deleted the preset “${preset.name}”; waiting orders are routed again`, { undo: () => void put(presets) })
  }
  const add = async (): Promise<void> => {
    const sides = form.inner.split(/[×x*]/i).map((side) => typedLength(side))
    const tare = typedWeight(form.tare || '0 g')
    const limit = typedWeight(form.limit)
    const id = form.name
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
    if (!id || sides.length !== 3 || sides.some((side) => !side) || tare === null || limit === null)
      return say(
        'A preset needs a name, an inner size such as 30 × 20 × 15 cm, and the most it takes, such as 10 kg.',
        { tone: 'bad' },
      )
    if (presets.some((preset) => preset.id === id))
      return say(`There is a preset “${form.name}” already.`, { tone: 'bad' })
    const inner = sides as unknown as [number, number, number]
    if (
      await put([
        ...presets,
        {
          id,
          name: form.name.trim(),
          inner,
          outer: inner.map((side) => side + 10) as unknown as [number, number, number],
          tare,
          limit,
        },
      ])
    )
      setForm({ name: '', inner: '', tare: '', limit: '' })
  }
  const field = (key: keyof typeof form, placeholder: string, className: string) => (
    <TextInput
      aria-label={placeholder}
      placeholder={placeholder}
      value={form[key]}
      onChange={(event) => setForm({ ...form, [key]: event.target.value })}
      className={className}
    />
  )
  return (
    <section>
      <h3 className={head}>Package presets</h3>
      <ul>
        {presets.map((preset) => (
          <li key={preset.id} className="flex items-baseline gap-2 border-b border-hair/60 py-1">
            <span className="min-w-0 flex-1 truncate">{preset.name}</span>
            <span className="text-small text-soft">
              {preset.inner.map((side) => formatLength(side).replace(' cm', '')).join(' × ')} cm,{' '}
              {formatWeight(preset.limit)}
            </span>
            <button
              aria-label={`Delete ${preset.name}`}
              className="min-h-[24px] px-1 text-small text-soft hover:text-lost"
              onClick={() => void remove(preset)}
            >
              delete
            </button>
          </li>
        ))}
      </ul>
      <form
        className="grid grid-cols-2 gap-2 pt-2"
        onSubmit={(event) => {
          event.preventDefault()
          void add()
        }}
      >
        {field('name', 'Name', '')}
        {field('inner', 'Inside, 30 × 20 × 15 cm', '')}
        {field('tare', 'Own weight, 120 g', '')}
        {field('limit', 'Takes up to, 10 kg', '')}
        <Button type="submit" className="col-span-2 justify-center">
          Add a preset
        </Button>
      </form>
    </section>
  )
}

function Editions({ view, draft }: { view: RulebookView; draft: DraftEditor }) {
  const client = useQueryClient()
  const say = useSay()
  const restore = async (number: number): Promise<void> => {
    const revision = await draft.settled()
    if (revision === null) return
    try {
      const answer = await call('POST /api/rules/rulebook/restore', { body: { edition: number, revision } })
      const next = await call('GET /api/rules/rulebook')
      draft.replace(next.draft, answer.revision, answer.findings)
      say(`Edition ${number} is the draft now`, { undo: draft.undo })
    } catch (error) {
      say(sentenceOf(error), { tone: 'bad' })
    }
  }
  const withdraw = async (number: number): Promise<void> => {
    try {
      await call('DELETE /api/rules/rulebook/publish', { body: { edition: number } })
      say(`Edition ${number} will not come into force`)
    } catch (error) {
      say(sentenceOf(error), { tone: 'bad' })
    }
    await client.invalidateQueries({ queryKey: ['rulebook'] })
  }
  return (
    <section>
      <h3 className={head}>Editions</h3>
      {view.editions.map((edition) => (
        <div key={edition.number} className="border-b border-hair/60 py-1.5">
          <p className="flex items-baseline gap-2">
            <b className="font-semibold">Edition {edition.number}</b>
            <span className="text-soft">
              {shortTime(edition.publishedAt)}, {edition.author}
            </span>
            <span className="ml-auto whitespace-nowrap">
              {edition.inForceAt > new Date().toISOString() && !edition.withdrawnAt && (
                <Button kind="quiet" onClick={() => void withdraw(edition.number)}>
                  Withdraw
                </Button>
              )}
              <Button kind="quiet" onClick={() => void restore(edition.number)}>
                Bring back as draft
              </Button>
            </span>
          </p>
          {edition.withdrawnAt ? (
            <p className="text-wait">Withdrawn before it came into force</p>
          ) : (
            edition.inForceAt > new Date().toISOString() && (
              <p className="text-wait">Comes into force {shortTime(edition.inForceAt)} UTC</p>
            )
          )}
          {edition.note && <p>{edition.note}</p>}
        </div>
      ))}
    </section>
  )
}
