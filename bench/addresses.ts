import { checkAddress, correctAll } from '@/core/address'
import { normaliseOrder } from '@/core/order'
import { shopRawOrder } from '@/adapters'
import { demoOrders } from '../demo/orders'

/** Checks the addresses of many orders, and works out the corrections of those with problems. */
export function benchAddresses(count: number, say: (line: string) => void): void {
  const addresses = []
  for (const raw of demoOrders('large', 7, '2026-11-20')) {
    addresses.push(normaliseOrder(shopRawOrder(raw)!, 'c', new Map()).shipTo)
    if (addresses.length === count) break
  }
  const began = performance.now()
  let problems = 0
  let corrected = 0
  for (const address of addresses) {
    const found = checkAddress(address)
    problems += found.length
    if (found.some(({ correction }) => correction !== null) && correctAll(address) !== address) corrected++
  }
  say(
    `addresses: ${count} checked in ${((performance.now() - began) / 1000).toFixed(2)} s, ${problems} problems, ${corrected} corrections proposed`,
  )
}
