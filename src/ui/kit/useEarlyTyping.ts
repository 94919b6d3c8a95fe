import { type RefObject, useEffect, useEffectEvent } from 'react'

/**
 * What was typed before the page was ready, on a slow line, counts as typed: the field's `onChange` gets it. For fields
 * whose value the page holds; `value` is that, and undefined where the field holds it itself.
 */
export function useEarlyTyping(input: RefObject<HTMLInputElement | null>, value: string | undefined): void {
  const take = useEffectEvent(() => {
    if (input.current && value !== undefined) typeAgain(input.current, value)
  })
  useEffect(() => take(), [])
}

function typeAgain(field: HTMLInputElement, held: string): void {
  const typed = field.value
  // A field of one line leaves out line breaks by itself: that is nobody's typing.
  if (typed === held.replace(/[\r\n]/g, '')) return
  field.value = held
  // By the element's own setter, which React has not seen: for it, this is a person's change.
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!.call(field, typed)
  field.dispatchEvent(new Event('input', { bubbles: true }))
}
