import { Check } from 'lucide-react'
import type { BenchLine } from '@/core/bench'
import { count } from '../../kit/format'

/**
 * What belongs in the parcel: how many of each are in it, large enough for an arm's length. What is still missing comes
 * first.
 */
export function BenchLines({
  lines,
  counted,
  pictures,
}: {
  lines: readonly BenchLine[]
  counted: readonly number[]
  pictures: Readonly<Record<string, string>>
}) {
  const rows = lines.map((line, i) => ({ line, i, inside: counted[i] ?? 0 }))
  const missing = rows.filter(({ line, inside }) => inside < line.quantity)
  const whole = rows.filter(({ line, inside }) => inside >= line.quantity)
  return (
    <ul aria-label="Items of the parcel" className="grid content-start">
      {[...missing, ...whole].map(({ line, i, inside }) => {
        const done = inside >= line.quantity
        return (
          <li
            key={i}
            className={`flex items-center gap-4 border-b border-hair py-2.5 max-[599px]:gap-2 ${done ? 'text-soft' : ''}`}
          >
            <span
              aria-hidden
              className={`grid size-9 shrink-0 place-items-center rounded-full ${done ? 'bg-done text-paper' : 'border-2 border-hair'}`}
            >
              {done && <Check className="size-6" strokeWidth={3} />}
            </span>
            {pictures[line.sku] !== undefined && (
              <img
                src={pictures[line.sku]}
                alt=""
                className={`size-20 shrink-0 bg-sheet object-contain max-[599px]:size-14 ${done ? 'opacity-60' : ''}`}
              />
            )}
            <span className="min-w-0 flex-1">
              <span className={`block text-head ${done ? '' : 'font-semibold'}`}>{line.title}</span>
              <span className="font-mono text-soft">{line.sku}</span>
            </span>
            <span className="text-[30px] leading-none whitespace-nowrap tabular-nums max-[599px]:text-[24px]">
              <b className={done ? 'text-done' : ''}>{count(inside)}</b>
              <span className="text-lead text-soft"> of {count(line.quantity)}</span>
            </span>
          </li>
        )
      })}
    </ul>
  )
}
