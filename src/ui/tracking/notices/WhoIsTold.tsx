'use client'
import { useState } from 'react'
import { languageNames, languages, type Telling } from '@/core/telling'
import { Field, TextInput } from '../../kit/Field'
import { Tick } from '../../kit/Tick'

interface Props {
  readonly telling: Telling
  readonly channels: readonly { readonly id: string; readonly name: string; readonly why: string }[]
  readonly onChange: (next: Partial<Telling>) => void
}

/** Who is told of a step: of which channels, in which countries, in which languages; nothing chosen is everybody. */
export function WhoIsTold({ telling, channels, onChange }: Props) {
  const writable = channels.filter(({ why }) => why === '')
  const toggled = (list: readonly string[], id: string): string[] =>
    list.includes(id) ? list.filter((one) => one !== id) : [...list, id]
  return (
    <div className="mt-2 border-b border-hair pb-3">
      {!telling.on && <p className="text-soft">Nobody is told of it so. Tick it in the table.</p>}
      {telling.on && (
        <>
          <fieldset className="flex flex-wrap items-center gap-x-4">
            <legend className="float-left mr-3 text-small text-soft">Only of</legend>
            {writable.map(({ id, name }) => (
              <Tick
                key={id}
                label={name}
                on={telling.channels.includes(id)}
                onChange={() => onChange({ channels: toggled(telling.channels, id) })}
              />
            ))}
          </fieldset>
          <fieldset className="flex flex-wrap items-center gap-x-4">
            <legend className="float-left mr-3 text-small text-soft">Only who reads</legend>
            {languages.map((id) => (
              <Tick
                key={id}
                label={languageNames[id]}
                on={telling.languages.includes(id)}
                onChange={() => onChange({ languages: toggled(telling.languages, id) })}
              />
            ))}
          </fieldset>
          <Countries value={telling.countries} onChange={(countries) => onChange({ countries })} />
        </>
      )}
    </div>
  )
}

function Countries({ value, onChange }: { value: readonly string[]; onChange: (codes: string[]) => void }) {
  const [typed, setTyped] = useState<string | null>(null)
  const codes = (text: string): string[] =>
    text
      .toUpperCase()
      .split(/[\s,;]+/)
      .filter(Boolean)
  const wrong = typed === null ? undefined : codes(typed).find((code) => !/^[A-Z]{2}$/.test(code))
  return (
    <Field
      label="Only in these countries"
      hint="Codes such as BE, NL; empty: everywhere."
      wrong={wrong && `“${wrong}” is no country code: write two letters, such as BE.`}
    >
      <TextInput
        value={typed ?? value.join(', ')}
        onChange={(event) => {
          const text = event.target.value
          setTyped(text)
          if (codes(text).every((code) => /^[A-Z]{2}$/.test(code))) onChange(codes(text))
        }}
        onBlur={() => wrong === undefined && setTyped(null)}
      />
    </Field>
  )
}
