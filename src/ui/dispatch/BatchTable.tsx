import type { DeskNames } from '@/usecases/desk/showDesk'
import type { BatchLine } from '@/usecases/dispatch/showBatches'
import { count, homeMoney } from '../kit/format'
import { When } from '../kit/When'

interface Shown {
  /** The one that is open beside the list, which has fewer columns then. */
  open: number | null
  names: DeskNames
  onOpen: (batch: number) => void
}

/** All batches, the youngest first, with how far each is. */
export function BatchTable({ batches, open, names, onOpen }: Shown & { batches: readonly BatchLine[] }) {
  return (
    <table className="w-full bg-sheet">
      <thead>
        <tr className="border-y border-hair text-small text-soft">
          <th className="px-3 py-1.5">Batch</th>
          <th>Made</th>
          <th>From, by</th>
          <th className="px-3">Next cut-off</th>
          <th className="pl-3 text-right">Labels</th>
          <th className="px-3">Progress</th>
          {open === null && (
            <>
              <th className="pl-3 text-right">Refused</th>
              <th className="pl-3 text-right">Voided</th>
            </>
          )}
          <th className="pl-3 text-right">Charged</th>
          {open === null && (
            <>
              <th className="px-3">Printed</th>
              <th>Handed over</th>
            </>
          )}
        </tr>
      </thead>
      <tbody>
        {batches.map((batch) => (
          <BatchRow key={batch.id} batch={batch} {...{ open, names, onOpen }} />
        ))}
      </tbody>
    </table>
  )
}

function BatchRow({ batch, open, names, onOpen }: Shown & { batch: BatchLine }) {
  const done = Number(batch.bought) + Number(batch.failed) + Number(batch.voided)
  const all = Number(batch.labels)
  return (
    <tr className={`border-b border-hair/70 hover:bg-tint ${open === batch.id ? 'bg-act-soft' : ''}`}>
      <td className="px-3 py-1.5">
        <button
          className="font-semibold whitespace-nowrap text-act underline decoration-hair underline-offset-4"
          onClick={() => onOpen(batch.id)}
        >
          Batch {batch.id}
        </button>
        {batch.name && <span className="block text-small text-soft">{batch.name}</span>}
      </td>
      <td>
        <When at={batch.madeAt} /> {open === null && <span className="text-soft">{batch.author}</span>}
      </td>
      <td className={open === null ? '' : 'max-w-40 truncate'}>
        {batch.locations.map((id) => names.locations[id] ?? id).join(', ')}{' '}
        <span className="text-soft">{batch.carriers.map((id) => names.carriers[id] ?? id).join(', ')}</span>
      </td>
      <td className="px-3 whitespace-nowrap">
        {batch.cutOff === null ? (
          <span className="text-soft">–</span>
        ) : (
          <time dateTime={batch.cutOff}>
            <When at={batch.cutOff} />
          </time>
        )}
      </td>
      <td className="pl-3 text-right">{count(all)}</td>
      <td className="px-3">
        <div className="flex items-center gap-2">
          <div
            role="progressbar"
            aria-label={`Batch ${batch.id}`}
            aria-valuenow={Math.round((100 * done) / Math.max(1, all))}
            className="h-2 w-24 bg-tint"
          >
            <div className="h-2 bg-done-mark" style={{ width: `${(100 * done) / Math.max(1, all)}%` }} />
          </div>
          <span>{Number(batch.queued) > 0 ? `${count(done)} of ${count(all)}` : 'done'}</span>
        </div>
      </td>
      {open === null && (
        <>
          <td className={`pl-3 text-right ${Number(batch.failed) > 0 ? 'font-semibold text-lost' : ''}`}>
            {count(Number(batch.failed))}
          </td>
          <td className="pl-3 text-right">{count(Number(batch.voided))}</td>
        </>
      )}
      <td className="pl-3 text-right whitespace-nowrap">{homeMoney(Number(batch.charged))}</td>
      {open === null && (
        <>
          <td className="px-3">
            {Number(batch.printed) > 0 ? `${count(Number(batch.printed))}` : <span className="text-soft">not yet</span>}
          </td>
          <td>
            {Number(batch.dispatched) > 0 ? (
              count(Number(batch.dispatched))
            ) : (
              <span className="text-soft">not yet</span>
            )}
          </td>
        </>
      )}
    </tr>
  )
}
