'use client'
import { weightText, lengthText } from '../../kit/format'
import type { PackagePreset } from '@/core/packing'
import type { RulebookView } from '@/usecases/rules/editRulebook'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { useSay } from '../../kit/Toast'
import { type PresetForm, presetForm, presetId, type PresetValues } from './presetForm'
import { useEditForm } from '../../kit/useEditForm'
import { useChange } from '../../kit/useChange'

const emptyForm: PresetForm = { name: '', inner: '', tare: '', limit: '' }

/** Boxes that goods are packed in. */
export function Presets({ view }: { view: RulebookView }) {
  const change = useChange(['rulebook'])
  const say = useSay()
  const { presets } = view.world
  const put = (next: readonly PackagePreset[]): Promise<boolean> =>
    change(() => call('PUT /api/dispatch/presets', { body: { presets: next } }))
  const remove = async (preset: PackagePreset): Promise<void> => {
    if (await put(presets.filter((other) => other.id !== preset.id)))
      say(`Deleted the preset “${preset.name}”; waiting orders are routed again`, { undo: () => void put(presets) })
  }
  const { form, edit } = useEditForm<PresetForm, PresetValues>('preset', emptyForm, presetForm)
  const { register, handleSubmit, setError, formState } = form
  const add = async ({ name, inner, tare, limit }: PresetValues): Promise<void> => {
    const id = presetId(name)
    if (presets.some((preset) => preset.id === id))
      return setError('name', { message: 'There is a preset of this name already.' })
    const outer = inner.map((side) => side + 10) as unknown as PackagePreset['outer']
    if (await put([...presets, { id, name, inner, outer, tare, limit }])) edit.drop()
  }
  const field = (key: keyof PresetForm, label: string, example: string) => (
    <Field label={label} wrong={formState.errors[key]?.message}>
      <TextInput placeholder={example} className="w-full" {...register(key)} />
    </Field>
  )
  return (
    <section>
      <ul>
        {presets.map((preset) => (
          <li key={preset.id} className="flex items-baseline gap-2 border-b border-hair/60 py-1">
            <span className="min-w-0 flex-1 truncate">{preset.name}</span>
            <span className="text-small text-soft">
              {preset.inner.map((side) => lengthText(side).replace(' cm', '')).join(' × ')} cm,{' '}
              {weightText(preset.limit)}
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
        className="grid gap-2 min-[900px]:grid-cols-[2fr_2fr_1fr_1fr_auto] pt-3"
        onSubmit={(event) => void handleSubmit(add)(event)}
      >
        {field('name', 'Name', 'Box M')}
        {field('inner', 'Inside', '30 × 20 × 15 cm')}
        {field('tare', 'Own weight', '120 g')}
        {field('limit', 'Takes up to', '10 kg')}
        <Button type="submit" disabled={formState.isSubmitting} className="mt-5 self-start">
          Add a preset
        </Button>
      </form>
    </section>
  )
}
