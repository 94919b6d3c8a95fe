'use client'
import { useState } from 'react'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { FloorBack } from '../FloorBack'

/** Which bench this screen is: asked once for a browser. */
export function BenchName({ onName }: { onName: (name: string) => void }) {
  const [name, setName] = useState('')
  return (
    <main id="main" className="relative grid h-dvh place-items-center bg-paper p-4">
      <div className="absolute top-2 left-4">
        <FloorBack to="/dispatch" name="Dispatch" />
      </div>
      <form
        className="grid w-full max-w-sm gap-4 bg-sheet p-6"
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim() !== '') onName(name.trim())
        }}
      >
        <h1 className="text-title">Which bench is this?</h1>
        <Field label="Its name" hint="What is checked here stands in the books under it.">
          <TextInput
            autoFocus
            required
            maxLength={60}
            className="w-full text-lead"
            placeholder="Bench 1"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Field>
        <Button kind="filled" type="submit" className="justify-self-start" disabled={name.trim() === ''}>
          Begin
        </Button>
      </form>
    </main>
  )
}
