'use client'
import { useState } from 'react'
import { sendFile } from '../../kit/api'
import { useChange } from '../../kit/useChange'
import { Part } from '../ListScreen'

/** A photograph of a package, by which packers know it. */
export function Photo({ preset, name, there }: { preset: string; name: string; there: boolean }) {
  const change = useChange(['setup'])
  const [at, setAt] = useState(0)
  const put = (file: Blob | undefined): void => {
    if (file)
      void change(
        () => sendFile('PUT /api/setup/pictures', { query: { preset }, file }),
        () => setAt((before) => before + 1),
      )
  }
  return (
    <Part title="Photograph">
      <p className="flex items-center gap-4">
        {there && (
          <img
            key={at}
            src={`/api/setup/pictures?preset=${encodeURIComponent(preset)}&at=${at}`}
            alt={`Photograph of ${name}`}
            className="max-h-36 max-w-56 border border-hair"
          />
        )}
        <label className="relative min-h-[24px] cursor-pointer text-act underline decoration-hair underline-offset-4 focus-within:outline-2">
          {there ? 'Choose another one …' : 'Choose a photograph …'}
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
        {there && (
          <button type="button" className="min-h-[24px] text-soft hover:text-lost" onClick={() => put(new Blob([]))}>
            take it away
          </button>
        )}
      </p>
    </Part>
  )
}
