import { checkAddress, mendAll } from '@/core/address'
import { normaliseOrder } from '@/core/order'
import { shopRawOrder } from '@/adapters'
import { demoOrders } from '../demo/orders'

/** Checks the addresses of many orders, and works out the mends of those with problems. */
export function benchAddresses(count: number, say: (line: string) => void): void {
  const addresses = []
  for (const raw of demoOrders('large', 7, '2026-11-20')) {
    addresses.push(normaliseOrder(shopRawOrder(raw)!, 'c', new Map()).shipTo)
    if (addresses.length === count) break
  }
  const began = performance.now()
  let problems = 0
  let mended = 0
  for (const address of addresses) {
    const found = checkAddress(address)
    problems += found.length
    if (found.some(({ mend }) => mend !== null) && mendAll(address) !== address) mended++
  }
  say(
    `addresses: ${count} checked in ${((performance.now() - began) / 1000).toFixed(2)} s, ${problems} problems, ${mended} mends proposed`,
  )
}
