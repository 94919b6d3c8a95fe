import fc from 'fast-check'
import { compileRulebook } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { readyWorld } from '@/core/world'
import { anyOrder, anyRulebook, testWorlds } from '../rulebook/language/arbitraries.test-help'
import { withoutPerson } from './withoutPerson'

test('what is decided of an order is the same without the person', () => {
  fc.assert(
    fc.property(anyRulebook, anyOrder, fc.constantFrom(...testWorlds.map(readyWorld)), (rulebook, order, ready) => {
      const program = compileRulebook(rulebook, ready.world.rates)
      const now = Date.parse('2026-11-25T09:00:00Z')
      const [whole, bare] = [order, withoutPerson(order)].map((one) => {
        const { problems, ...routed } = route(one, program, ready, { now })
        return { ...routed, problems: problems.map(({ code }) => code) }
      })
      expect(bare).toEqual(whole)
    }),
    { numRuns: 300 },
  )
})

test('nothing of the person is left', () => {
  fc.assert(
    fc.property(anyOrder, (order) => {
      const secret = {
        ...order,
        buyer: { ...order.buyer, name: 'Xq Person', email: 'xq@post.example', phone: '+32 555 0199' },
        shipTo: { ...order.shipTo, name: 'Xq Person', company: 'Xq Company', lines: ['Xq street 7', 'Postbus 99 Xq'] },
        problems: [{ code: 'address-email', sentence: 'xq@post.example is no street.' }],
        message: 'For Xq, with love',
      }
      expect(JSON.stringify(withoutPerson(secret))).not.toMatch(/xq|0199/i)
    }),
  )
})
