import type { Order } from '@/core/order'
import { isParcelLocker, isPostOfficeBox } from './postOfficeBox'

const said = (text: string): string => (text === '' ? '' : '·')

/**
 * The order without who it is for: names, lines, e-mail, phone and message are gone, and everything that rules, packing
 * and rating ask of it is as it was (whether there is an e-mail, a company, a post-office box, a parcel locker). For
 * where orders are decided but not read, as in a trial in the browser.
 */
export function withoutPerson(order: Order): Order {
  const { message: _message, ...rest } = order
  const { buyer, shipTo } = order
  return {
    ...rest,
    buyer: { ...buyer, name: '', email: said(buyer.email), phone: said(buyer.phone) },
    shipTo: { ...shipTo, name: '', company: said(shipTo.company), lines: linesLike(shipTo.lines) },
    // Their sentences may quote what is gone; their codes decide.
    problems: order.problems.map(({ code }) => ({ code, sentence: code })),
  }
}

function linesLike(lines: readonly string[]): readonly string[] {
  if (isPostOfficeBox(lines)) return ['PO Box 1']
  if (isParcelLocker(lines)) return ['Packstation 1']
  return lines.length > 0 ? ['Street 1'] : []
}
