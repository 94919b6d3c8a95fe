import type { Knex } from 'knex'
import { first } from './001-first'
import { pinnedOrders } from './002-pinned-orders'
import { rulebook } from './003-rulebook'
import { parcels } from './004-parcels'
import { addresses } from './005-addresses'
import { moneyBooks } from './006-money'
import { combined } from './007-combined'
import { returns } from './008-returns'
import { unbreakable } from './009-unbreakable'
import { reasons } from './010-reasons'
import { connections } from './011-connections'
import { authorisations } from './012-authorisations'
import { messages } from './013-messages'
import { fileMappings } from './014-file-mappings'
import { pictures } from './015-pictures'
import { credit } from './016-credit'
import { accounts } from './017-accounts'
import { partners } from './018-partners'
import { board } from './019-board'
import { places } from './020-places'
import { open } from './021-open'
import { webhooks } from './022-webhooks'

export const migrations: { name: string; up: (db: Knex) => Promise<void> }[] = [
  { name: '001-first', up: first },
  { name: '002-pinned-orders', up: pinnedOrders },
  { name: '003-rulebook', up: rulebook },
  { name: '004-parcels', up: parcels },
  { name: '005-addresses', up: addresses },
  { name: '006-money', up: moneyBooks },
  { name: '007-combined', up: combined },
  { name: '008-returns', up: returns },
  { name: '009-unbreakable', up: unbreakable },
  { name: '010-reasons', up: reasons },
  { name: '011-connections', up: connections },
  { name: '012-authorisations', up: authorisations },
  { name: '013-messages', up: messages },
  { name: '014-file-mappings', up: fileMappings },
  { name: '015-pictures', up: pictures },
  { name: '016-credit', up: credit },
  { name: '017-accounts', up: accounts },
  { name: '018-partners', up: partners },
  { name: '019-board', up: board },
  { name: '020-places', up: places },
  { name: '021-open', up: open },
  { name: '022-webhooks', up: webhooks },
]
