import type { ItemView } from '@/usecases/intake/items'
import { count } from '../../kit/format'
import type { Changes, Column } from './itemChanges'
import { ItemPicture } from './ItemPictures'

/** The columns that can be typed into. */
export const cells: readonly (readonly [column: Column, head: string, width: string, right?: boolean])[] = [
  ['title', 'Title', 'w-full min-w-44'],
  ['weight', 'Weight', 'w-18', true],
  ['length', 'Length', 'w-18', true],
  ['width', 'Width', 'w-18', true],
  ['height', 'Height', 'w-18', true],
  ['tags', 'Tags', 'w-16'],
  ['handling', 'Handling', 'w-28'],
  ['hs code', 'HS code', 'w-19'],
  ['origin', 'Origin', 'w-12'],
  ['dangerous goods', 'UN', 'w-19'],
  ['gtin', 'GTIN', 'w-36'],
  ['place', 'Place', 'w-14'],
]
const needs: Partial<Record<Column, string>> = {
  weight: 'weight',
  length: 'size',
  'hs code': 'HS code',
  origin: 'origin',
}

/** An item, its cells edited in place; what is missing and matters is marked. */
export function ItemRow({
  item,
  change,
  onChange,
  onSave,
  onRemove,
}: {
  item: ItemView
  change: Changes[string] | undefined
  onChange: (column: Column, text: string) => void
  onSave: () => void
  onRemove: () => Promise<void>
}) {
  const { row, use, missing, unlisted, measured, picture } = item
  return (
    <tr className={`border-b border-hair/70 ${change ? 'bg-act-soft' : ''}`}>
      <td>{!unlisted && <ItemPicture sku={row.sku!} picture={picture} />}</td>
      <td className="whitespace-nowrap px-2 font-mono text-small">
        {row.sku}
        {unlisted ? (
          <b className="ml-1 font-sans text-wait" title="It is in orders, but not in the list">
            new
          </b>
        ) : (
          measured && (
            <span className="ml-1 font-sans text-soft" title="Measured by ourselves: goes before what a channel says">
              ●
            </span>
          )
        )}
      </td>
      {cells.map(([column, head, width, right]) => {
        const wanted = needs[column] !== undefined && missing.includes(needs[column])
        const text = change?.[column]?.text ?? row[column] ?? ''
        return (
          <td key={column} className={`p-0.5 ${column === 'tags' ? 'pl-2' : ''}`}>
            <input
              aria-label={`${head} of ${row.sku}`}
              value={text}
              title={text.length > 16 ? text : undefined}
              placeholder={wanted ? '?' : ''}
              onChange={(event) => onChange(column, event.target.value)}
              onKeyDown={(event) => {
                if (event.key === 'Enter') onSave()
                if (event.key === 'Escape') onChange(column, row[column] ?? '')
              }}
              className={`h-[26px] border bg-transparent px-1 text-ellipsis hover:border-hair focus:border-act ${wanted ? 'border-wait-mark bg-wait-soft placeholder:text-wait' : 'border-transparent'} ${width} ${right ? 'text-right' : ''}`}
            />
          </td>
        )
      })}
      <td className="px-1 text-right">{use.waiting === 0 ? '' : count(use.waiting)}</td>
      <td className="px-1 text-right text-soft">{use.recent === 0 ? '' : count(use.recent)}</td>
      <td className="pr-2">
        {!unlisted && (
          <button
            aria-label={`Take ${row.sku} off the list`}
            className="size-[24px] text-soft hover:text-lost"
            onClick={() => void onRemove()}
          >
            ×
          </button>
        )}
      </td>
    </tr>
  )
}
