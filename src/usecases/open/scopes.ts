/** What a token may do, each with what people read when they give it. */
export const scopes = {
  'orders:read': 'read orders, and why they go as they go',
  'orders:write': 'create orders, hold them, decide by hand',
  'parcels:read': 'read labels, parcels and their news',
  'papers:read': 'fetch labels, slips and customs papers',
  'quotes:read': 'ask what a parcel would cost',
  'rules:read': 'read the rulebook in force',
  'trials:run': 'run trials of the draft',
} as const
export type Scope = keyof typeof scopes
export const isScope = (text: string): text is Scope => text in scopes
