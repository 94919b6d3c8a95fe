import { z } from 'zod'
import type { PackagePreset } from '@/core/packing'
import { grams } from '@/core/units'
import { typedLength } from '../../kit/read'
import { orEmpty, weightField } from '../../kit/typedFields'
import { idOf } from './idOf'

/** A package preset as it is typed, read into its values. */
export const presetForm = z.object({
  name: z.string().trim().min(1, 'Give it a name.').max(60, 'At most 60 characters.'),
  inner: z.string().transform((text, context): PackagePreset['inner'] => {
    // The unit stands behind the last side, and holds for all.
    const sides = text.split(/[×x*]/i).map((side) => side.trim())
    const unit = /(?<![a-z])[a-z]+$/i.exec(sides[sides.length - 1] ?? '')?.[0] ?? 'cm'
    const lengths = sides.map((side) => typedLength(side, unit))
    if (lengths.length === 3 && lengths.every((length) => length !== null && length > 0))
      return lengths as unknown as PackagePreset['inner']
    context.addIssue({ code: 'custom', message: 'Three sides, such as 30 × 20 × 15 cm.' })
    return z.NEVER
  }),
  tare: orEmpty(weightField('120 g', 'g', 0), grams(0)),
  limit: weightField('10 kg'),
})
export type PresetForm = z.input<typeof presetForm>
export type PresetValues = z.output<typeof presetForm>

/** The identifier that a new preset gets from its name. */
export const presetId = (name: string): string => idOf(name).replace(/^-|-$/g, '')
