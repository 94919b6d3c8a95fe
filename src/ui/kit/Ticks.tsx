'use client'
import { type Control, Controller, type FieldPath, type FieldValues } from 'react-hook-form'
import { Tick } from './Tick'

/** Which of a list hold; the field is the list of those that do. */
export function Ticks<In extends FieldValues, Out extends FieldValues>({
  control,
  name,
  label,
  of,
}: {
  control: Control<In, unknown, Out>
  name: FieldPath<In>
  label: string
  of: readonly (readonly [id: string | number, name: string])[]
}) {
  return (
    <Controller
      control={control}
      name={name}
      render={({ field }) => {
        const on = field.value as readonly (string | number)[]
        return (
          <fieldset className="mt-1 flex flex-wrap items-center gap-x-4">
            {label && <legend className="float-left mr-3 text-small text-soft">{label}</legend>}
            {of.map(([id, text]) => (
              <Tick
                key={id}
                label={text}
                on={on.includes(id)}
                onChange={() =>
                  // In the order of the list, so that what is ticked and unticked is as it was.
                  field.onChange(of.map(([each]) => each).filter((each) => on.includes(each) !== (each === id)))
                }
              />
            ))}
          </fieldset>
        )
      }}
    />
  )
}
