import { z } from 'zod'
import type { PackagePreset } from '@/core/packing'
import { grams, millimetres, type Size } from '@/core/units'
import { lengthText, plainHome, weightText } from '../../kit/format'
import { units } from '../../kit/locale'
import { typedSize } from '../../kit/read'
import { amountField, orEmpty, weightField } from '../../kit/typedFields'

const example = (): string => (units() === 'imperial' ? '12 × 9 × 4 in' : '30 × 20 × 15 cm')

const sizeField = z.string().transform((text, context): Size => {
  const size = typedSize(text)
  if (size) return size
  context.addIssue({ code: 'custom', message: `Three sides, such as ${example()}.` })
  return z.NEVER
})

/** A package preset as it is typed, read into its values. */
export const presetForm = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(60, 'At most 60 characters.'),
  inner: sizeField,
  outer: orEmpty(sizeField, null),
  tare: orEmpty(weightField('120 g', 'g', 0), grams(0)),
  limit: weightField('10 kg', 'kg'),
  cost: orEmpty(amountField('0.38'), undefined),
  stock: orEmpty(
    z
      .string()
      .regex(/^\s*\d{1,7}\s*$/, 'A number of pieces, or nothing when nobody counts them.')
      .transform(Number),
    undefined,
  ),
})
export type PresetForm = z.input<typeof presetForm>
export type PresetValues = z.output<typeof presetForm>

/** `30 × 20 × 15 cm`: the unit stands once. */
export function sizeText(size: Size): string {
  const sides = size.map(lengthText)
  const unit = / (\S+)$/.exec(sides[2]!)?.[1] ?? ''
  return sides.every((side) => side.endsWith(` ${unit}`))
    ? `${sides.map((side) => side.slice(0, -unit.length - 1)).join(' × ')} ${unit}`
    : sides.join(' × ')
}

export const presetFormOf = ({ name, inner, outer, tare, limit, cost, stock }: PackagePreset): PresetForm => ({
  name,
  inner: inner[0] === 0 ? '' : sizeText(inner),
  outer: outer[0] === 0 ? '' : sizeText(outer),
  tare: tare === 0 ? '' : weightText(tare),
  limit: limit === 0 ? '' : weightText(limit),
  cost: plainHome(cost),
  stock: stock === undefined ? '' : String(stock),
})

// What a wall takes, where nothing is said: half a centimetre on each side.
const walls = 10

export function withPresetValues(
  preset: PackagePreset,
  { name, inner, outer, tare, limit, cost, stock }: PresetValues,
): PackagePreset {
  const { cost: _cost, stock: _stock, ...rest } = preset
  return {
    ...rest,
    ...{ name, inner, tare, limit },
    outer: outer ?? [millimetres(inner[0] + walls), millimetres(inner[1] + walls), millimetres(inner[2] + walls)],
    ...(cost === undefined ? {} : { cost }),
    ...(stock === undefined ? {} : { stock }),
  }
}
