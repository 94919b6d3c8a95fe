'use client'
import { weightText, lengthText } from '../../kit/format'
import { useQuery } from '@tanstack/react-query'
import type { PackingView } from '@/usecases/desk/showPacking'
import { call } from '../../kit/api'

type Shown = PackingView['parcels'][number]

/**
 * How an order is packed: each parcel with its layers from the bottom up, as seen from above. Equal parcels are shown
 * once.
 */
export function Packing({ order }: { order: number }) {
  const { data } = useQuery({
    queryKey: ['packing', order],
    queryFn: () => call('GET /api/desk/orders/:id/packing', { path: { id: String(order) } }),
  })
  if (!data) return <p className="text-soft">Looking …</p>
  const groups = equalOnes(data.parcels)
  return (
    <div className="grid gap-3">
      {groups.map(({ shown, count }, i) => (
        <section key={i} aria-label={`Parcel ${i + 1}`}>
          <p>
            <b className="font-semibold">
              {count > 1 && `${count} × `}
              {shown.name}
            </b>{' '}
            <span className="text-soft">
              {shown.parcel.size.map(lengthText).join(' × ')}, {weightText(shown.parcel.weight)}
              {count > 1 && ' each'}
            </span>
          </p>
          <ul className="text-small text-soft">
            {shown.parcel.contents.map(({ item, quantity }) => (
              <li key={item}>
                <i
                  aria-hidden
                  className="mr-1 inline-block size-2.5 border border-ink/40"
                  style={{ background: tone(item) }}
                />
                {quantity} × {data.items[item]?.title || data.items[item]?.sku}
              </li>
            ))}
          </ul>
          {shown.layers && shown.inner ? (
            <Layers layers={shown.layers} inner={shown.inner} items={data.items} />
          ) : (
            shown.parcel.preset !== '' && (
              <p className="text-small text-soft">
                Somebody named this package, so the pieces were not placed one by one.
              </p>
            )
          )}
        </section>
      ))}
    </div>
  )
}

const width = 118

function Layers({
  layers,
  inner,
  items,
}: {
  layers: NonNullable<Shown['layers']>
  inner: readonly [number, number, number]
  items: PackingView['items']
}) {
  const scale = width / inner[0]
  const height = Math.max(20, inner[1] * scale)
  return (
    <ol className="mt-1 flex flex-wrap gap-2">
      {layers.map((layer, i) => (
        <li key={layer.from}>
          <svg
            width={width}
            height={height}
            viewBox={`0 0 ${inner[0]} ${inner[1]}`}
            role="img"
            aria-label={`Layer ${i + 1}, from ${lengthText(layer.from)}: ${layer.pieces.map((piece) => items[piece.item]?.title ?? '').join(', ')}`}
            className="border border-ink/50 bg-paper"
          >
            {layer.pieces.map((piece, k) => (
              <rect
                key={k}
                x={piece.x}
                y={inner[1] - piece.y - piece.depth}
                width={piece.width}
                height={piece.depth}
                fill={tone(piece.item)}
                stroke="currentColor"
                strokeWidth={inner[0] / 160}
              />
            ))}
          </svg>
          <p className="text-small text-soft">{i === 0 ? 'bottom' : `from ${lengthText(layer.from)}`}</p>
        </li>
      ))}
    </ol>
  )
}

const tones = ['#C9B7CB', '#E8C98A', '#B9D0C5', '#E0B3A6', '#C6C9D8', '#D9D2B4']
const tone = (item: number): string => tones[item % tones.length]!

function equalOnes(parcels: readonly Shown[]): { shown: Shown; count: number }[] {
  const groups = new Map<string, { shown: Shown; count: number }>()
  for (const shown of parcels) {
    const key = JSON.stringify([shown.parcel.preset, shown.parcel.weight, shown.parcel.contents])
    const group = groups.get(key)
    if (group) group.count++
    else groups.set(key, { shown, count: 1 })
  }
  return [...groups.values()]
}
