'use client'
import type { FieldValues, UseFormReturn } from 'react-hook-form'
import type { z } from 'zod'
import type { ListChange, ListName } from '@/usecases/setup/lists'
import { call } from '../kit/api'
import type { Edit } from '../kit/useEdit'
import { useSay } from '../kit/Toast'
import { useChange } from '../kit/useChange'
import { useEditForm } from '../kit/useEditForm'

/** One kind of thing that is set up, and how it is typed. */
export interface ThingKind<T extends object, In extends FieldValues, Out extends FieldValues> {
  readonly list: ListName
  /** What one of them is called, in the middle of a sentence. */
  readonly one: string
  readonly keyOf: (thing: T) => string
  readonly nameOf: (thing: T) => string
  /** A new one, before anything is typed. */
  readonly blank: T
  readonly formOf: (thing: T) => In
  readonly schema: z.ZodType<Out, In>
  readonly withValues: (thing: T, values: Out) => T
}

export interface ThingEdit<T extends object, In extends FieldValues, Out extends FieldValues> {
  readonly form: UseFormReturn<In, unknown, Out>
  readonly edit: Edit<In>
  /** The change as it is typed; null while it makes no sense, or when there is none. */
  readonly change: ListChange | null
  readonly save: (values: Out) => Promise<boolean>
  /** Takes a thing of the list into other hands: retired, brought back, or (null) deleted. */
  readonly put: (after: T | null, done: string) => Promise<boolean>
}

/**
 * The edit of one thing of a list, or of a new one (null); what is typed outlives the page until it is saved or put
 * back.
 */
export function useThing<T extends object, In extends FieldValues, Out extends FieldValues>(
  kind: ThingKind<T, In, Out>,
  thing: T | null,
  onSaved: (key: string | null) => void,
): ThingEdit<T, In, Out> {
  const { list, schema, formOf, withValues, keyOf, nameOf } = kind
  const began = thing ?? kind.blank
  const say = useSay()
  const { form, edit } = useEditForm<In, Out>(`${list} ${thing ? keyOf(thing) : 'new'}`, formOf(began), schema)
  const change = useChange(['setup'], ['uses', list], ['line'], ['rulebook'])
  const parsed = edit.editing ? schema.safeParse(edit.value) : null
  const before = thing as ListChange['before']
  const put = (after: T | null, done: string): Promise<boolean> =>
    change(
      () => call('PUT /api/setup/lists', { body: { list, before, after: after as ListChange['after'] } }),
      (answer) => {
        edit.drop()
        say(done)
        onSaved(answer.thing === null ? null : keyOf(answer.thing as T))
      },
    )
  return {
    form,
    edit,
    change:
      parsed?.success === true ? { list, before, after: withValues(began, parsed.data) as ListChange['after'] } : null,
    save: (values) => {
      const after = withValues(began, values)
      return put(
        after,
        thing ? `${nameOf(after)} is changed; the waiting orders are routed again` : `${nameOf(after)} is there`,
      )
    },
    put,
  }
}
