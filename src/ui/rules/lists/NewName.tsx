'use client'
import { useState, type ReactNode } from 'react'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { idOf } from './idOf'

/** Adds something by its name; a name whose identifier is taken, or makes none, is not added. */
export function NewName({
  label,
  taken,
  onAdd,
  children,
}: {
  label: string
  taken: readonly { readonly id: string }[]
  onAdd: (thing: { id: string; name: string }) => void
  children?: ReactNode
}) {
  const [name, setName] = useState('')
  const add = (): void => {
    const id = idOf(name)
    if (!id || taken.some((other) => other.id === id)) return
    onAdd({ id, name: name.trim() })
    setName('')
  }
  return (
    <form
      className="flex gap-2 pt-3"
      onSubmit={(event) => {
        event.preventDefault()
        add()
      }}
    >
      <TextInput
        aria-label={label}
        value={name}
        placeholder={label}
        onChange={(event) => setName(event.target.value)}
        className="min-w-0 flex-1"
      />
      {children}
      <Button type="submit">Add</Button>
    </form>
  )
}
