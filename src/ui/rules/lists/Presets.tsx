'use client'
import { useState } from 'react'
import type { PackagePreset } from '@/core/packing'
import { formatLength, formatWeight } from '@/core/units'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { typedLength, typedWeight } from '../../kit/read'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'

/** Boxes that goods are packed in. */
export function Presets({ view }: { view: RulebookView }) {
  const change = useChange(['rulebook'])
  const say = useSay()
  const [form, setForm] = useState({ name: '', inner: '', tare: '', limit: '' })
  const { presets } = view.world
  const put = (next: readonly PackagePreset[]): Promise<boolean> =>
    change(() => call('PUT /api/dispatch/presets', { body: { presets: next } }))
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
        className="grid grid-cols-[2fr_2fr_1fr_1fr_auto] gap-2 pt-3"
        onSubmit={(event) => {
          event.preventDefault()
          void add()
        }}
      >
        {field('name', 'Name', '')}
        {field('inner', 'Inside, 30 × 20 × 15 cm', '')}
        {field('tare', 'Own weight, 120 g', '')}
        {field('limit', 'Takes up to, 10 kg', '')}
        <Button type="submit">Add a preset</Button>
      </form>
    </section>
  )
}
