import { Check } from 'lucide-react'
import { count } from '../../kit/format'
import { type BenchState, isFinished, placedIn } from './benchState'

/** The places of a bench where several parcels are packed at once: what lies where, and what is still missing. */
export function Places({ state, onTurn }: { state: BenchState; onTurn: (place: string) => void }) {
  return (
    <ul aria-label="Open parcels" className="flex flex-wrap gap-2 border-b border-hair bg-sheet px-4 py-2">
      {placedIn(state).map(({ place, view, counted }) => {
        const inside = counted.reduce((sum, n) => sum + n, 0)
        const all = view.parcel.lines.reduce((sum, { quantity }) => sum + quantity, 0)
        const shown = place === state.place
        const done = isFinished({ ...state, view, counted })
        return (
          <li key={place}>
            <button
              type="button"
              aria-current={shown ? 'true' : undefined}
              aria-label={`Place ${place}: ${view.number}, ${inside} of ${all}`}
              className={`flex items-center gap-3 border px-3 py-1 ${shown ? 'border-act bg-act-soft' : 'border-hair hover:bg-tint'}`}
              onClick={() => onTurn(place)}
            >
              <b className="text-[26px] leading-none">{place}</b>
              <span className="text-left">
                <span className="block font-mono text-small">{view.number}</span>
                <span className={`flex items-center gap-1 ${done ? 'text-done' : 'text-soft'}`}>
                  {done && <Check aria-hidden className="size-4" />}
                  {count(inside)} of {count(all)}
                </span>
              </span>
            </button>
          </li>
        )
      })}
    </ul>
  )
}
