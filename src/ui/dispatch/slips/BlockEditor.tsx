'use client'
import { useId, useState } from 'react'
import { countryCode } from '@/core/order'
import { type BlockKind, blockKinds, type SlipBlock } from '@/core/papers'
import { Button } from '../../kit/Button'
import { Select, TextArea, TextInput } from '../../kit/Field'

const usualCountries = ['NL', 'DE', 'FR', 'PL', 'GB', 'ES', 'IT', 'SE', 'DK', 'CZ', 'PT', 'BE', 'LU', 'IE', 'FI', 'AT']

const worded: readonly BlockKind[] = ['heading', 'text', 'gift', 'offer', 'returns']

/** One block of a slip: what it is, what it says, in which languages, and when it is printed. */
export function BlockEditor({
  at,
  of,
  block,
  problem,
  left,
  onChange,
  onMove,
}: {
  at: number
  of: number
  block: SlipBlock
  problem: string
  left: boolean
  onChange: (next: SlipBlock | null) => void
  onMove: (to: number) => void
}) {
  const name = `block ${at + 1}`
  const texts = Object.entries(block.texts ?? {})
  const put = (more: Partial<SlipBlock>): void => onChange({ ...block, ...more })
  const putTexts = (next: readonly (readonly [string, string])[]): void => {
    const { texts: _before, ...rest } = block
    onChange(next.length === 0 ? rest : { ...rest, texts: Object.fromEntries(next) })
  }
  return (
    <li className={`border-t border-hair py-2 ${left ? 'bg-tint' : ''}`}>
      <div className="flex items-center gap-2">
        <Select
          aria-label={`Kind of ${name}`}
          value={block.kind}
          onChange={(event) => put({ kind: event.target.value as BlockKind })}
        >
          {blockKinds.map((kind) => (
            <option key={kind}>{kind}</option>
          ))}
        </Select>
        <label className="flex min-w-0 flex-1 items-center gap-2 whitespace-nowrap text-small text-soft">
          only if{' '}
          <TextInput
            aria-label={`Condition of ${name}`}
            value={block.when ?? ''}
            placeholder="always"
            onChange={(event) => put({ when: event.target.value })}
            className="w-full font-mono text-small"
          />
        </label>
        {left && <span className="text-small text-soft">not for this order</span>}
        <button
          aria-label={`Move ${name} up`}
          disabled={at === 0}
          className="size-[24px] text-soft hover:text-act disabled:opacity-30"
          onClick={() => onMove(at - 1)}
        >
          ↑
        </button>
        <button
          aria-label={`Move ${name} down`}
          disabled={at === of - 1}
          className="size-[24px] text-soft hover:text-act disabled:opacity-30"
          onClick={() => onMove(at + 1)}
        >
          ↓
        </button>
        <button
          aria-label={`Delete ${name}`}
          className="size-[24px] text-soft hover:text-lost"
          onClick={() => onChange(null)}
        >
          ×
        </button>
      </div>
      {worded.includes(block.kind) && (
        <div className="mt-1.5 grid gap-1.5">
          <TextArea
            aria-label={`Text of ${name}`}
            rows={block.kind === 'heading' ? 1 : 3}
            value={block.text ?? ''}
            onChange={(event) => put({ text: event.target.value })}
            className="w-full"
          />
          {texts.map(([country, text], i) => (
            <div key={i} className="flex gap-2">
              <CountryOf
                label={`Country ${i + 1} of ${name}`}
                country={country}
                others={texts.filter((_, other) => other !== i).map(([code]) => code)}
                onChange={(code) => putTexts(texts.map((entry, other) => (other === i ? [code, entry[1]] : entry)))}
              />
              <TextArea
                aria-label={`Text for ${country} of ${name}`}
                rows={2}
                value={text}
                onChange={(event) =>
                  putTexts(texts.map((entry, other) => (other === i ? [entry[0], event.target.value] : entry)))
                }
                className="w-full"
              />
              <button
                aria-label={`Delete the text for ${country}`}
                className="size-[24px] text-soft hover:text-lost"
                onClick={() => putTexts(texts.filter((_, other) => other !== i))}
              >
                ×
              </button>
            </div>
          ))}
          <p className="flex items-center gap-3">
            <Button
              kind="quiet"
              onClick={() =>
                putTexts([
                  ...texts,
                  [usualCountries.find((country) => !(country in (block.texts ?? {}))) ?? 'AT', block.text ?? ''],
                ])
              }
            >
              Add a language
            </Button>
            {block.kind !== 'heading' && (
              <label className="flex items-center gap-2 text-small text-soft">
                size{' '}
                <Select
                  aria-label={`Size of ${name}`}
                  value={block.size ?? 'usual'}
                  onChange={(event) => put({ size: event.target.value as NonNullable<SlipBlock['size']> })}
                >
                  <option>small</option>
                  <option>usual</option>
                  <option>large</option>
                </Select>
              </label>
            )}
          </p>
        </div>
      )}
      {block.kind === 'items' && (
        <label className="mt-1.5 flex min-h-[24px] items-center gap-1.5">
          <input
            type="checkbox"
            checked={block.bars ?? false}
            onChange={(event) => put({ bars: event.target.checked })}
            className="size-4 accent-[var(--act)]"
          />
          with the bars of each SKU, for scanning at the bench
        </label>
      )}
      {problem && (
        <p role="alert" className="mt-1 text-lost">
          {problem}
        </p>
      )}
    </li>
  )
}

/**
 * The country that a text is for. A code that has a text already, or is none, is said and not taken: no text is lost.
 */
function CountryOf({
  label,
  country,
  others,
  onChange,
}: {
  label: string
  country: string
  others: readonly string[]
  onChange: (code: string) => void
}) {
  const [text, setText] = useState(country)
  const wrong = wrongCountry(text, others)
  const id = useId()
  return (
    <span className="grid w-16 content-start gap-1">
      <TextInput
        aria-label={label}
        aria-invalid={wrong !== ''}
        aria-describedby={wrong ? id : undefined}
        value={text}
        onChange={(event) => {
          const typed = event.target.value.toUpperCase().slice(0, 2)
          setText(typed)
          if (wrongCountry(typed, others) === '') onChange(typed)
        }}
        className="w-12"
      />
      {wrong && (
        <span id={id} role="alert" className="text-small text-lost">
          {wrong}
        </span>
      )}
    </span>
  )
}

function wrongCountry(code: string, others: readonly string[]): string {
  if (others.includes(code)) return `${code} has a text already.`
  return countryCode(code) === code ? '' : 'A code such as NL.'
}
