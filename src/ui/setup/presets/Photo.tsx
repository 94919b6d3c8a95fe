'use client'
import { useState } from 'react'
import { sendFile } from '../../kit/api'
import { useChange } from '../../kit/useChange'
import { Part } from '../ListScreen'

/** A photograph of a package, by which packers know it. */
export function Photo({ preset, name }: { preset: string; name: string }) {
  const change = useChange()
  const [shown, setShown] = useState({ at: 0, there: true })
  const put = (file: Blob | undefined): void => {
    if (file)
      void change(
        () => sendFile('PUT /api/setup/pictures', { query: { preset }, file }),
        () => setShown({ at: Date.now(), there: file.size > 0 }),
      )
  }
  return (
    <Part title="Photograph">
      <p className="flex items-center gap-4">
        {shown.there && (
          // eslint-disable-next-line @next/next/no-img-element -- It comes from the books, and is small.
          <img
            key={shown.at}
            src={`/api/setup/pictures?preset=${encodeURIComponent(preset)}&at=${shown.at}`}
            alt={`Photograph of ${name}`}
            className="max-h-36 max-w-56 border border-hair"
            onError={() => setShown((before) => ({ ...before, there: false }))}
          />
        )}
        <label className="relative min-h-6 cursor-pointer text-act underline decoration-hair underline-offset-4 focus-within:outline-2">
          {shown.there ? 'Choose another one …' : 'Choose a photograph …'}
          <input
            type="file"
            accept="image/png,image/jpeg,image/webp"
            aria-label={`Photograph of ${name}`}
            className="sr-only"
            onChange={(event) => {
              put(event.target.files?.[0])
              event.target.value = ''
            }}
          />
        </label>
        {shown.there && (
          <button type="button" className="min-h-6 text-soft hover:text-lost" onClick={() => put(new Blob([]))}>
            take it away
          </button>
        )}
      </p>
    </Part>
  )
}
