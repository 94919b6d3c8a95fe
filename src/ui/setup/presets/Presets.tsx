'use client'
import type { UseFormReturn } from 'react-hook-form'
import type { PackagePreset } from '@/core/packing'
import { measured } from '@/core/units'
import type { SetupView } from '@/usecases/setup/showSetup'
import { Field, TextInput } from '../../kit/Field'
import { homeSign, units } from '../../kit/locale'
import { typedSize } from '../../kit/read'
import { weightText } from '../../kit/format'
import { ListScreen, Part } from '../ListScreen'
import type { ThingKind } from '../useThing'
import { useSetup } from '../useSetup'
import { BoxPicture } from './BoxPicture'
import { Photo } from './Photo'
import { type PresetForm, presetForm, presetFormOf, type PresetValues, sizeText, withPresetValues } from './presetForm'

const kind: ThingKind<PackagePreset, PresetForm, PresetValues> = {
  list: 'presets',
  one: 'preset',
  keyOf: ({ id }) => id,
  nameOf: ({ name }) => name,
  blank: measured({ id: '', name: '', inner: [0, 0, 0], outer: [0, 0, 0], tare: 0, limit: 0 }),
  formOf: presetFormOf,
  schema: presetForm,
  withValues: withPresetValues,
}

/** Boxes, mailers and tubes that stand at the benches. */
export function Presets({ initial }: { initial: SetupView }) {
  const view = useSetup(initial)
  return (
    <ListScreen
      at="presets"
      about="What goods are packed in"
      kind={kind}
      things={view.presets}
      services={Object.fromEntries(view.services.map(({ id, name }) => [id, name]))}
      hint={({ inner, limit }) => `${sizeText(inner)}, to ${weightText(limit)}`}
      empty="No package yet. Add the boxes and bags that stand at your benches."
      fields={(form) => <Fields form={form} />}
      more={(preset) => (
        <Photo key={preset.id} preset={preset.id} name={preset.name} there={view.pictured.includes(preset.id)} />
      )}
    />
  )
}

function Fields({ form }: { form: UseFormReturn<PresetForm, unknown, PresetValues> }) {
  const { errors } = form.formState
  const imperial = units() === 'imperial'
  const field = (key: keyof PresetForm, label: string, placeholder: string, hint = '') => (
    <Field label={label} wrong={errors[key]?.message} hint={hint}>
      <TextInput placeholder={placeholder} className="w-full" {...form.register(key)} />
    </Field>
  )
  const [inner, outer] = form.watch(['inner', 'outer'])
  const drawn = typedSize(outer) ?? typedSize(inner)
  return (
    <Part title="Package">
      <div className="grid gap-4 min-[900px]:grid-cols-[1fr_200px]">
        <div className="grid content-start gap-3">
          {field('name', 'Name', 'Box M')}
          <div className="grid grid-cols-2 gap-3">
            {field('inner', 'Inside', imperial ? '12 × 9 × 4 in' : '30 × 20 × 15 cm')}
            {field(
              'outer',
              'Outside',
              imperial ? '12.5 × 9.5 × 4.5 in' : '31 × 21 × 16 cm',
              'Empty: a little more than inside.',
            )}
            {field('tare', 'Own weight', imperial ? '5 oz' : '120 g')}
            {field('limit', 'Takes up to', imperial ? '20 lb' : '10 kg')}
            {field('cost', `Costs, ${homeSign()}`, '0.38')}
            {field('stock', 'Pieces in stock', 'not counted', 'With 0 it is not taken by itself.')}
          </div>
        </div>
        <div className="justify-self-center">
          {drawn && <BoxPicture size={drawn} label={`Drawn: ${sizeText(drawn)}`} />}
        </div>
      </div>
    </Part>
  )
}
