'use client'
import { home } from '../../kit/locale'
import { moneyText } from '../../kit/format'
import { useState } from 'react'
import { money, minorDigits } from '@/core/units'
import { typedAmount, typedWeight } from '../../kit/read'
import { speeds } from '@/core/rating'
import { addressKinds, decisionKinds, nobody, priorities, readLimits, splits } from '@/core/rulebook/language'
import type { World } from '@/core/world'
import { Button } from '../../kit/Button'
import { Select, TextInput } from '../../kit/Field'

const hints: Readonly<Record<string, string>> = {
  grams: 'Enter a weight such as 250 g or 1.2 kg.',
  limits: 'Enter what one parcel may have, such as 15 kg, 60 cm, 4 pieces.',
  days: 'Enter a whole number of days.',
  money: 'Enter an amount such as 12.50.',
}

/** Sets one decision by hand; wrong input is said before anything is sent. */
export function PinEditor({
  decision,
  world,
  onPin,
  onCancel,
}: {
  decision: string
  world: World
  onPin: (value: unknown) => Promise<unknown>
  onCancel: () => void
}) {
  const kind = decisionKinds.find((candidate) => candidate.id === decision)!
  const [text, setText] = useState('')
  const [wrong, setWrong] = useState('')
  const options = optionsOf(kind.type, world)
  const [busy, setBusy] = useState(false)
  const pin = async (): Promise<void> => {
    if (busy) return
    const value = options
      ? (options.find((option) => option.label === text)?.value ?? options[0]?.value)
      : read(kind.type, text)
    if (value === undefined) return setWrong(hints[kind.type] ?? 'Enter something.')
    setBusy(true)
    await onPin(value)
    setBusy(false)
  }
  return (
    <form
      className="mt-1.5 flex flex-wrap items-center gap-2 bg-tint p-2"
      onSubmit={(event) => {
        event.preventDefault()
        void pin()
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          event.stopPropagation()
          onCancel()
        }
      }}
    >
      {options ? (
        <Select
          autoFocus
          aria-label={kind.name}
          value={text || options[0]?.label}
          onChange={(event) => setText(event.target.value)}
        >
          {options.map((option) => (
            <option key={option.label}>{option.label}</option>
          ))}
        </Select>
      ) : (
        <TextInput
          autoFocus
          aria-label={kind.name}
          value={text}
          placeholder={kind.type === 'grams' ? 'for example 250 g or -1.2 kg' : kind.name}
          onChange={(event) => setText(event.target.value)}
        />
      )}
      <Button kind="plain" type="submit" aria-busy={busy}>
        Pin by hand
      </Button>
      <Button kind="quiet" onClick={onCancel}>
        Cancel
      </Button>
      {wrong && (
        <p role="alert" className="w-full text-lost">
          {wrong}
        </p>
      )}
    </form>
  )
}

function optionsOf(type: string, world: World): { label: string; value: unknown }[] | null {
  const named = (
    list: readonly { readonly id: string; readonly name: string }[],
  ): { label: string; value: unknown }[] => list.map(({ id, name }) => ({ label: name, value: id }))
  switch (type) {
    case 'preset':
      return named(world.presets)
    case 'location':
      return named(world.locations)
    case 'slip':
      return named(world.slips)
    case 'partner':
      return [...named(world.partners ?? []), { label: nobody, value: nobody }]
    case 'picks':
      return [
        ...world.services.map(({ id, name }) => ({ label: name, value: [{ by: 'service', service: id }] })),
        { label: 'the cheapest', value: [{ by: 'cheapest' }] },
        { label: 'the fastest', value: [{ by: 'fastest' }] },
      ]
    case 'speed':
      return speeds.map((value) => ({ label: value, value }))
    case 'priority':
      return priorities.map((value) => ({ label: value, value }))
    case 'duties':
      return ['DAP', 'DDP'].map((value) => ({ label: value, value }))
    case 'split':
      return splits.map((value) => ({ label: value, value }))
    case 'address kind':
      return addressKinds.map((value) => ({ label: value, value }))
    case 'moment':
      return [
        { label: 'bought', value: 'bought' },
        { label: 'handed over', value: 'dispatched' },
      ]
    case 'yes/no':
      return [
        { label: 'yes', value: true },
        { label: 'no', value: false },
      ]
    case 'insurance':
      return [
        { label: 'the order value', value: { cover: 'order value' } },
        { label: 'nothing', value: { cover: 'none' } },
        ...[100, 250, 500, 1000].map((whole) => {
          const amount = money(whole * 10 ** minorDigits(home()), home())
          return { label: moneyText(amount), value: { cover: 'amount', amount } }
        }),
      ]
    default:
      return null
  }
}

function tagsIn(text: string): string[] | undefined {
  const tags = text
    .split(',')
    .map((tag) => tag.trim())
    .filter(Boolean)
  return tags.length > 0 ? tags : undefined
}

function read(type: string, text: string): unknown {
  if (type === 'grams') return typedWeight(text) ?? undefined
  if (type === 'limits') return readLimits(text)
  if (type === 'item tags') return tagsIn(text)
  if (type === 'days') return /^\d{1,3}$/.test(text.trim()) ? Number(text) : undefined
  if (type === 'money') {
    const minor = typedAmount(text, home())
    return minor === null ? undefined : money(minor, home())
  }
  return text.trim() || undefined
}
