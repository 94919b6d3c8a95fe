import type { MoneyView } from '@/usecases/ledger/balances'
import { Button } from '../../kit/Button'
import { TextInput } from '../../kit/Field'
import { amount, plainHome } from '../../kit/format'
import { home } from '../../kit/locale'
import { typedAmount } from '../../kit/read'
import { useEdit } from '../../kit/useEdit'

export type Carrier = MoneyView['carriers'][number]
/** The half-done top-up of a carrier. */
export const topUpOf = (carrier: string): string => `top-up ${carrier}`
/** An amount in home money as somebody typed it; null when it is none. */
export const minorOf = (text: string): number | null => typedAmount(text, home())

/** What stands at one carrier, and when it is topped up. */
export function CarrierRow({
  carrier,
  onTopUp,
  onMark,
  onCredit,
  onWrong,
}: {
  carrier: Carrier
  onTopUp: (minor: number) => void
  onMark: (mark: number | null, by: number | null) => Promise<boolean>
  onCredit: (limit: number | null) => Promise<boolean>
  onWrong: (sentence: string) => void
}) {
  const shown = (minor: number | null): string => plainHome(minor ?? undefined)
  const hand = useEdit(topUpOf(carrier.carrier), '')
  const edit = useEdit(`balance ${carrier.carrier}`, {
    mark: shown(carrier.mark),
    by: shown(carrier.topUpBy),
    credit: shown(carrier.creditLimit),
  })
  const form = edit.value
  const field = (label: string, placeholder: string, value: string, put: (text: string) => void) => (
    <TextInput
      aria-label={`${label} of ${carrier.name}`}
      value={value}
      placeholder={placeholder}
      onChange={(event) => put(event.target.value)}
      className="w-24 text-right"
    />
  )
  const read = (text: string): number | null | undefined => (text.trim() === '' ? null : (minorOf(text) ?? undefined))
  const [mark, by, credit] = [read(form.mark), read(form.by), read(form.credit)]
  const save = async (): Promise<void> => {
    if (mark === undefined || by === undefined || credit === undefined)
      return onWrong('Mark, amount and credit limit are amounts such as 250.00, or empty.')
    const marked = form.mark === shown(carrier.mark) && form.by === shown(carrier.topUpBy)
    if (!marked && !(await onMark(mark, by))) return
    if (form.credit !== shown(carrier.creditLimit) && !(await onCredit(credit))) return
    edit.drop()
  }
  const topUp = (): void => {
    const minor = minorOf(hand.value)
    if (minor === null || minor <= 0) onWrong(`“${hand.value}” is no amount above 0, such as 250.00.`)
    else onTopUp(minor)
  }
  return (
    <tr className="border-b border-hair/70">
      <td className="px-3 py-1 font-semibold">
        {carrier.name}
        {carrier.problem && <span className="block text-small font-normal text-lost">{carrier.problem}</span>}
      </td>
      <td className={`text-right ${carrier.balance < 0 ? 'text-lost' : ''}`}>{amount(carrier.balance)}</td>
      <td className="pl-4 text-right">{carrier.due === 0 ? '' : amount(carrier.due)}</td>
      <td className="pl-6">
        <span className="flex items-center gap-2">
          {field('Top-up', '0.00', hand.value, hand.put)}
          {hand.value !== '' && (
            <Button className="py-0.5" calls="POST /api/ledger/balance/top-up" onClick={topUp}>
              Top up
            </Button>
          )}
        </span>
      </td>
      <td>{field('Mark', 'never', form.mark, (text) => edit.put({ ...form, mark: text }))}</td>
      <td>{field('Automatic amount', '', form.by, (text) => edit.put({ ...form, by: text }))}</td>
      <td>{field('Credit limit', 'none', form.credit, (text) => edit.put({ ...form, credit: text }))}</td>
      <td className="pr-3 text-right">
        {edit.editing && (
          <Button kind="quiet" onClick={save}>
            Set it
          </Button>
        )}
      </td>
    </tr>
  )
}
