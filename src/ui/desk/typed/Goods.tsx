import { Plus, X } from 'lucide-react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useId, useState } from 'react'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Field, TextInput } from '../../kit/Field'
import { noLine, type TypedLine } from './typedForm'

/** The goods of a typed order: items of the list, or just a weight and a size. */
export function Goods({
  items,
  wrong,
  onChange,
}: {
  items: readonly TypedLine[]
  wrong: Readonly<Record<string, string>>
  onChange: (items: readonly TypedLine[]) => void
}) {
  const list = useId()
  const [looked, setLooked] = useState('')
  const { data } = useQuery({
    queryKey: ['typed items', looked],
    queryFn: () => call('GET /api/desk/typed/items', { query: { q: looked } }),
    placeholderData: keepPreviousData,
    staleTime: 60_000,
  })
  const found = data?.items ?? []
  const known = (what: string): boolean => found.some(({ sku }) => sku === what.trim())
  const put = (at: number, part: Partial<TypedLine>): void =>
    onChange(items.map((item, i) => (i === at ? { ...item, ...part } : item)))
  return (
    <fieldset className="mt-3 grid gap-2 border-t border-hair pt-2">
      <legend className="sr-only">Goods</legend>
      <datalist id={list}>
        {found.map(({ sku, title }) => (
          <option key={sku} value={sku}>
            {title}
          </option>
        ))}
      </datalist>
      {items.map((item, i) => {
        const listed = known(item.what)
        const n = i + 1
        const box = (field: keyof TypedLine, label: string, placeholder: string) => (
          <Field label={label} wrong={wrong[`items.${i}.${field}`]}>
            <TextInput
              aria-label={`${label}, line ${n}`}
              className="w-full min-w-0"
              placeholder={placeholder}
              value={item[field]}
              onChange={(event) => {
                put(i, { [field]: event.target.value })
                if (field === 'what') setLooked(event.target.value)
              }}
              {...(field === 'what' ? { list } : {})}
            />
          </Field>
        )
        return (
          <div key={i} className="grid grid-cols-[1fr_4rem_1.5rem] items-start gap-2">
            {box('what', 'Item or goods', 'SKU, or what it is')}
            {box('quantity', 'Pieces', '')}
            {items.length > 1 ? (
              <button
                type="button"
                aria-label={`Take out line ${n}`}
                className="mt-6 grid size-6 place-items-center text-soft hover:text-act"
                onClick={() => onChange(items.filter((_, at) => at !== i))}
              >
                <X className="size-4" />
              </button>
            ) : (
              <span />
            )}
            <div className="col-span-2 grid grid-cols-2 gap-2">
              {box('weight', 'Weight of one', listed ? 'as in the item list' : '1.2 kg')}
              {box('size', 'Size of one', listed ? 'as in the item list' : '30 × 20 × 5 cm')}
            </div>
          </div>
        )
      })}
      {wrong.items && (
        <p role="alert" className="text-small text-lost">
          {wrong.items}
        </p>
      )}
      <p>
        <Button kind="quiet" onClick={() => onChange([...items, noLine])}>
          <Plus className="size-4" aria-hidden /> Another line
        </Button>
      </p>
    </fieldset>
  )
}
