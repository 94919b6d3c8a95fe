/** Everything that can be allowed, in the words that complete "you may not …". Nothing else stands for a permission. */
export const permissions = {
  'own.account': 'change your own account',
  'line.see': 'see what waits along the line',
  'pictures.see': 'see pictures of items and packages',
  'orders.see': 'see orders and parcels',
  'orders.export': 'take buyers’ names and addresses away as a file',
  'buyers.forget': 'take buyers’ data out of the books',
  'orders.decide': 'decide orders by hand',
  'orders.address': 'correct addresses and numbers of orders',
  'orders.type': 'type in orders',
  'customers.write': 'write to buyers',
  'returns.allow': 'allow and settle returns',
  'intake.see': 'see imports, items and wordings',
  'intake.run': 'start imports and hand in files of orders',
  'items.change': 'change items, wordings and stock',
  'connections.change': 'change connections and their credentials',
  'rules.see': 'see the rulebook',
  'rules.draft': 'edit the draft of the rulebook',
  'rules.publish': 'publish the rulebook',
  'labels.see': 'see labels, batches and collections',
  'labels.buy': 'buy labels',
  'labels.print': 'print labels and slips',
  'labels.void': 'void labels',
  'floor.work': 'work at a bench, the door or the counter',
  'floor.plan': 'plan waves, collections, manifests and slips',
  'telling.change': 'change what customers are told',
  'money.see': 'see what shipping costs',
  'money.settle': 'settle refunds, claims and invoices',
  'money.spend': 'top up balances',
  'tariffs.change': 'change tariffs',
  'setup.see': 'see the set-up',
  'setup.change': 'change the set-up',
  'access.change': 'give programs access',
  'people.manage': 'add people, change roles and end sign-ins',
  'second.agree': 'agree to what somebody else has begun',
  'audit.see': 'read the audit',
  'location.see': 'see the orders of one location',
} as const
export type Permission = keyof typeof permissions

const all = Object.keys(permissions) as Permission[]
const allBut = (...without: readonly Permission[]): readonly Permission[] => all.filter((one) => !without.includes(one))
const seen = ['own.account', 'line.see', 'pictures.see', 'orders.see'] as const

/** The roles by what people do: how each is called, alone and for several, and what it may. */
const table = {
  owner: { name: 'Owner', many: 'the owner', about: 'May do everything, and says who else may what.', may: all },
  lead: {
    name: 'Operations lead',
    many: 'operations leads',
    about: 'Writes and publishes rules, sets Gharry up, watches cost and lateness.',
    may: allBut('people.manage', 'location.see'),
  },
  dispatcher: {
    name: 'Dispatcher',
    many: 'dispatchers',
    about: 'Solves exceptions, buys labels and hands parcels over.',
    may: allBut(
      ...([
        'people.manage',
        'location.see',
        'second.agree',
        'audit.see',
        'access.change',
        'connections.change',
        'setup.change',
        'buyers.forget',
      ] as const),
      ...(['rules.draft', 'rules.publish', 'telling.change', 'tariffs.change', 'money.spend', 'money.settle'] as const),
    ),
  },
  accountant: {
    name: 'Accountant',
    many: 'accountants',
    about: 'Settles refunds, claims and invoices, and takes reports away.',
    may: [...seen, 'orders.export', 'labels.see', 'money.see', 'money.settle'],
  },
  agent: {
    name: 'Service agent',
    many: 'service agents',
    about: 'Finds orders for customers on the phone, corrects addresses, writes to buyers, allows returns.',
    may: [...seen, 'orders.address', 'orders.type', 'customers.write', 'returns.allow', 'labels.see'],
  },
  reader: {
    name: 'Reader',
    many: 'readers',
    about: 'Looks at everything but people, and changes nothing.',
    may: [...seen, 'intake.see', 'rules.see', 'labels.see', 'money.see', 'setup.see'],
  },
  packer: {
    name: 'Packer',
    many: 'packers',
    about: 'Packs, checks by scan, hands over at the door and the counter; a badge is enough to sign in.',
    may: ['own.account', 'pictures.see', 'floor.work', 'labels.print'],
  },
  partner: {
    name: 'Partner',
    many: 'partners',
    about: 'Sees the orders of one location, and nothing else.',
    may: ['own.account', 'location.see'],
  },
} as const satisfies Record<string, { name: string; many: string; about: string; may: readonly Permission[] }>
export type Role = keyof typeof table

/** The roles, by identifier: `name` of one, `many` as in "packers may …", `about` for whoever chooses one. */
export const roles: Readonly<Record<Role, { readonly name: string; readonly many: string; readonly about: string }>> =
  table
/** The identifiers of the roles, the most powerful first. */
export const roleIds = Object.keys(table) as readonly Role[]

const allowed = new Map<Role, ReadonlySet<Permission>>(
  roleIds.map((role) => [role, new Set<Permission>(table[role].may)]),
)

/** Whether a role has a permission. */
export const may = (role: Role, permission: Permission): boolean => allowed.get(role)?.has(permission) ?? false

/**
 * Who has a permission, as a part of a sentence.
 * @example whoMay('rules.publish') // 'the owner and operations leads'
 */
export function whoMay(permission: Permission): string {
  const names = roleIds.filter((role) => may(role, permission)).map((role) => roles[role].many)
  return names.length < 2 ? (names[0] ?? 'nobody') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}`
}
