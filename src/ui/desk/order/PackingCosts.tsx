'use client'
import { homeSign } from '../../kit/locale'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView } from '@/usecases/desk/showOrder'
import { homeMoney } from '../../kit/format'

/** What each way to pack would have cost, where several were weighed. */
export function PackingCosts({ view, names }: { view: OrderView; names: DeskNames }) {
  const packed = view.parcels.map((parcel) => parcel.preset).join()
  return (
    <table className="mb-2 w-full">
      <thead className="sr-only">
        <tr>
          <th>Packed in</th>
          <th>Label and packaging, {homeSign()}</th>
        </tr>
      </thead>
      <tbody>
        {view.packings.map((way, i) => (
          <tr
            key={i}
            className={`border-b border-hair/60 ${way.presets.join() === packed ? 'bg-done-soft font-semibold' : 'text-soft'}`}
          >
            <td className="py-1 pl-1">
              {way.presets.join() === packed && '● '}
              {way.presets.map((preset) => names.presets[preset] ?? 'own box').join(' + ')}
            </td>
            <td className="py-1 pr-1 text-right">{way.cost === null ? 'nobody takes it' : homeMoney(way.cost)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}
