import { type CarrierCan, carrierKindOf } from '@/adapters'
import { connectionsOfCarrier, type Database } from '@/data'
import { accountFor } from './accounts'

const nothing: CarrierCan = { prepaid: false, refunds: false, returns: false, manifests: false, collections: false }

/** What the account of a carrier that a location uses can do; nothing where there is none. */
export async function carrierCan(db: Database, carrier: string, location: string): Promise<CarrierCan> {
  const account = accountFor(await connectionsOfCarrier(db, carrier), { location })
  return (account && carrierKindOf(account.kind)?.can) ?? nothing
}
