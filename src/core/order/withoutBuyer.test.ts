import fc from 'fast-check'
import { testOrder } from './order.test-help'
import { takenOut, withoutBuyer } from './withoutBuyer'

const word = fc
  .string({ unit: fc.constantFrom(...'abcdefghijklmnopqrstuvwxyz'.split('')), minLength: 6, maxLength: 12 })
  .map((text) => `Q${text}q`)

test('nothing of a buyer is left in an order, whatever it was, and all that figures need is', () => {
  fc.assert(
    fc.property(
      fc.record({ name: word, company: word, line: word, city: word, email: word, phone: word, message: word }),
      (own) => {
        const order = {
          ...testOrder({
            shipTo: {
              name: own.name,
              company: own.company,
              lines: [own.line, own.line],
              city: own.city,
              postcode: 'LS1 4DY',
            },
          }),
          buyer: { name: own.name, email: `${own.email}@post.example`, phone: own.phone, returning: true },
          message: own.message,
          problems: [{ code: 'odd', sentence: `${own.line} is no street` }],
        }
        const left = withoutBuyer(order)
        const text = JSON.stringify(left)
        for (const personal of Object.values(own)) expect(text).not.toContain(personal)
        expect(left.shipTo).toMatchObject({
          country: order.shipTo.country,
          region: order.shipTo.region,
          postcode: 'LS',
          company: takenOut,
        })
        expect(left).toMatchObject({
          items: order.items,
          value: order.value,
          number: order.number,
          placedAt: order.placedAt,
        })
        expect(left.buyer.returning).toBe(true)
        expect(withoutBuyer(left)).toEqual(left)
      },
    ),
  )
})

test('what was not there is not made up', () => {
  const left = withoutBuyer(testOrder({ shipTo: { company: '', lines: [] } }))
  expect(left.shipTo).toMatchObject({ company: '', lines: [] })
})
