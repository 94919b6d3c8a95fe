import type { Order } from './order'

/** What stands where something of a buyer was. */
export const takenOut = '…'

const gone = (text: string): string => (text === '' ? '' : takenOut)
/** Enough for a zone, and for no house. */
const district = (postcode: string): string => postcode.trim().slice(0, 2)

/**
 * An order without what says whose it was: name, company, street, town, e-mail, telephone, the words for the slip. What
 * figures and trials need stays: the country, its region, the first two signs of the postcode, items, money and days;
 * and whether there was a company, as that makes an address a business. Taken out twice is the same as once.
 */
export function withoutBuyer(order: Order): Order {
  const { message: _message, buyer, shipTo, ...rest } = order
  return {
    ...rest,
    buyer: { ...buyer, name: takenOut, email: '', phone: '' },
    shipTo: {
      ...shipTo,
      name: takenOut,
      company: gone(shipTo.company),
      lines: shipTo.lines.length === 0 ? [] : [takenOut],
      city: gone(shipTo.city),
      postcode: district(shipTo.postcode),
    },
    // Their sentences tell what they are about.
    problems: [],
  }
}
