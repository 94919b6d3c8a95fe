import { useState } from 'react'
import type { DeskNames } from '@/usecases/desk/showDesk'
import type { OrderView } from '@/usecases/desk/showOrder'
import type { BatchPlan } from '@/usecases/dispatch/planBatch'
import { call } from '../../kit/api'
import { Button } from '../../kit/Button'
import { Confirm } from '../../kit/Confirm'
import { TextInput } from '../../kit/Field'
import { homeMoney, shortDay } from '../../kit/format'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'

/** Buys the label of this order alone, without leaving it; asked once more, with what it costs now. */
export function BuyOne({ view, names }: { view: OrderView; names: DeskNames }) {
  const { id, number } = view.row
  const [plan, setPlan] = useState<BatchPlan | null>(null)
  const [approval, setApproval] = useState('')
  const change = useChange(['order', id], ['desk'], ['line'])
  const say = useSay()
  const look = (): Promise<boolean> =>
    change(
      () => call('POST /api/dispatch/plan', { body: { orders: [id] } }),
      (made) => {
        if (made.labels.length > 0) setPlan(made)
        else say(made.blocked[0]?.reason ?? 'It cannot be bought now.', { tone: 'bad' })
      },
    )
  const label = plan?.labels[0]
  const buy = async (): Promise<void> => {
    await change(
      () => call('POST /api/dispatch/batches', { body: { orders: [id], expected: plan!.total, approval } }),
      'The label is being bought',
    )
    setPlan(null)
  }
  return (
    <>
      <Button onClick={() => look()}>Buy the label</Button>
      {label && plan && (
        <Confirm
          open
          title={`Buy the label of ${number} for ${homeMoney(plan.total)}?`}
          action={`Buy for ${homeMoney(plan.total)}`}
          onClose={() => setPlan(null)}
          onConfirm={() => buy()}
        >
          <p>
            {names.services[label.service] ?? label.service}, arrives {shortDay(label.arrivesOn)}.
          </p>
          {plan.above > 0 && (
            <label className="mt-2 grid gap-1 bg-wait-soft p-2">
              This is {homeMoney(plan.above)} above what may be spent today without approval. Why is it bought all the
              same?
              <TextInput value={approval} onChange={(event) => setApproval(event.target.value)} className="w-full" />
            </label>
          )}
        </Confirm>
      )}
    </>
  )
}
