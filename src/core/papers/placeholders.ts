/** What placeholders can name, with an example of each. */
export const placeholders: readonly (readonly [name: string, about: string])[] = [
  ['buyer.firstName', 'first name of the buyer'],
  ['buyer.name', 'whole name of the buyer'],
  ['order.number', 'order number'],
  ['order.placed', 'day of the order'],
  ['order.channel', 'sales channel'],
  ['order.country', 'country code of the ship-to address'],
  ['order.value', 'value of the goods'],
  ['order.quantity', 'pieces'],
  ['order.wording', 'checkout wording'],
  ['order.message', 'what the buyer wants to be written, as for a gift'],
  ['order.tags', 'tags, as a list'],
  ['parcel.number', 'tracking number'],
  ['parcel.text', '“Parcel 2 of 3”'],
]
