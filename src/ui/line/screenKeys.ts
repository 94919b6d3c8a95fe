type Keys = readonly (readonly [key: string, what: string])[]

/** The keys of each screen, by the beginning of its address; the longest that fits counts. */
const byPath: Readonly<Record<string, Keys>> = {
  '/rules': [
    ['Tab', 'next word'],
    ['Enter', 'open a word'],
    ['Delete', 'remove a condition or action'],
    ['Alt ↑ ↓', 'move the rule'],
    ['Ctrl C, Ctrl V', 'copy the rule, paste behind it'],
    ['/', 'search'],
    ['Ctrl Z', 'undo'],
    ['Ctrl Y', 'redo'],
  ],
  '/desk': [
    ['↑ ↓', 'move'],
    ['Space', 'select'],
    ['Enter', 'open the order'],
    ['Esc', 'close, or clear the selection'],
    ['/', 'search'],
    ['a', 'select all shown'],
    ['b', 'plan a batch of the selected'],
  ],
  '/dispatch': [['Enter', 'open a batch, or press a button']],
  '/intake/items': [['Enter', 'save the cell’s row']],
}

const everywhere: Keys = [
  ['Tab', 'next control'],
  ['Alt 1 … 6', 'go along the line: Intake, Rules, Desk, Dispatch, Tracking, Ledger'],
  ['?', 'these keys'],
]

/** What the keys do on a screen, its own first. */
export function keysOf(path: string): Keys {
  const [own] = Object.keys(byPath)
    .filter((beginning) => path.startsWith(beginning))
    .sort((a, b) => b.length - a.length)
  const keys = own === undefined ? [] : byPath[own]!
  return [...keys, ...everywhere.filter(([key]) => !keys.some(([named]) => named === key))]
}
