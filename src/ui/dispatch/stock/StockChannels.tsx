'use client'
import type { StockView } from '@/usecases/dispatch/stock/showStock'
import { call } from '../../kit/api'
import { Select } from '../../kit/Field'
import { useChange } from '../../kit/useChange'

/** Which channels say what is in stock, which are told what is free. */
export function StockChannels({ view }: { view: StockView }) {
  const change = useChange(['stock'])
  const can = view.channels.filter((channel) => channel.can)
  if (can.length === 0) return null
  const put = (channel: string, value: string): Promise<boolean> => {
    const [stock = '', location = ''] = value.split(':')
    return change(
      () =>
        call('PUT /api/dispatch/stock/channels', {
          body: { channel, stock: stock as (typeof can)[number]['stock'], location },
        }),
      'Set',
    )
  }
  return (
    <section id="stock-channels" aria-label="Channels" className="mt-6 max-w-3xl">
      <h2 className="border-b border-hair pb-1 text-lead">Channels</h2>
      {can.map(({ id, name, stock, stockLocation, stockProblem }) => (
        <div key={id} className="flex flex-wrap items-center gap-3 border-b border-hair/60 py-1.5">
          <span className="w-48">{name}</span>
          <Select
            aria-label={`${name} and the stock`}
            value={stock === 'says' ? `says:${stockLocation}` : stock}
            onChange={(event) => void put(id, event.target.value)}
          >
            <option value="">neither says nor is told what is there</option>
            <option value="told">is told what is free in all locations</option>
            {Object.entries(view.locations).map(([location, words]) => (
              <option key={location} value={`says:${location}`}>
                says what is on hand in {words}
              </option>
            ))}
          </Select>
          {stockProblem && <span className="text-wait">△ {stockProblem}</span>}
        </div>
      ))}
    </section>
  )
}
