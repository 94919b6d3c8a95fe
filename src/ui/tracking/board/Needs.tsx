import type { BoardNeed } from '@/usecases/tracking/showBoard'
import { count } from '../../kit/format'
import { needsInOrder, needWords } from './needs'

/** What needs a person today: how many parcels, and why. Each is a filter. */
export function Needs({
  needs,
  chosen,
  onChoose,
}: {
  needs: Readonly<Record<BoardNeed, number>> | undefined
  chosen: string | null
  onChoose: (need: string | null) => void
}) {
  return (
    <div role="group" aria-label="Needs a person" className="flex flex-wrap gap-2 px-5 pb-2">
      {needs && needsInOrder.every((need) => needs[need] === 0) && (
        <p className="py-1 text-soft">No parcel needs a person.</p>
      )}
      {needsInOrder
        .filter((need) => (needs?.[need] ?? 0) > 0 || chosen === need)
        .map((need) => {
          const n = needs?.[need] ?? 0
          const on = chosen === need
          return (
            <button
              key={need}
              aria-pressed={on}
              title={needWords[need].about}
              onClick={() => onChoose(on ? null : need)}
              className={`rounded-[3px] border px-2.5 py-1 text-left ${on ? 'border-act bg-act-soft' : 'border-hair bg-sheet hover:bg-tint'}`}
            >
              <b className={`mr-1.5 ${n > 0 ? 'text-lost' : 'font-normal text-soft'}`}>{count(n)}</b>
              <span className={n > 0 ? '' : 'text-soft'}>{needWords[need].name}</span>
            </button>
          )
        })}
    </div>
  )
}
