'use client'
import { zodResolver } from '@hookform/resolvers/zod'
import { replaceEqualDeep } from '@tanstack/react-query'
import { useEffect } from 'react'
import { type DefaultValues, type FieldValues, useForm, type UseFormReturn } from 'react-hook-form'
import type { z } from 'zod'
import { type Edit, useEdit } from './useEdit'

/**
 * A form of several fields, read by a Zod schema, whose fields are an edit that outlives the page. What is typed goes
 * into the edit; what changes the edit from elsewhere (kept from before, put back, saved by somebody else) goes into
 * the fields.
 */
export function useEditForm<In extends FieldValues, Out extends FieldValues>(
  id: string,
  saved: In,
  schema: z.ZodType<Out, In>,
): { form: UseFormReturn<In, unknown, Out>; edit: Edit<In> } {
  const edit = useEdit<In>(id, saved)
  const form = useForm<In, unknown, Out>({
    resolver: zodResolver(schema),
    defaultValues: saved as DefaultValues<In>,
  })
  const text = JSON.stringify(edit.value)
  useEffect(() => {
    const now = form.getValues()
    const wanted = JSON.parse(text) as In
    if (replaceEqualDeep(now, wanted) !== now) form.reset(wanted)
  }, [form, text])
  const { put } = edit
  useEffect(() => {
    const { unsubscribe } = form.watch((values) => put(values as In))
    return unsubscribe
  })
  return { form, edit }
}
