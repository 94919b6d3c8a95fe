import type { Keys } from '../kit/KeysDialog'

/** The keys of every list that is a grid. */
const list: Keys = [
  ['↑ ↓', 'the row above, below; from the first row up to the head, which sorts'],
  ['Page ↑ ↓', 'a page of rows'],
  ['Home, End', 'the first row, the last'],
]

/** The keys of each screen, by the beginning of its address; the longest that fits counts. */
const byPath: Readonly<Record<string, Keys>> = {
  '/intake': [['Enter', 'press a button, open a file']],
  '/intake/items': [
    ['Enter', 'save what was changed'],
    ['Esc', 'put the cell back'],
  ],
  '/intake/wordings': [
    ['Enter', 'save the table'],
    ['Esc', 'put the cell back'],
  ],
  '/rules': [
    ['Tab', 'next word; in a word: take what was typed'],
    ['Enter', 'open a word, take a value'],
    ['Esc', 'leave without taking; from Lists and editions back to the rules'],
    ['Delete', 'remove a condition or action'],
    ['Alt ↑ ↓', 'move the rule'],
    ['Ctrl C, Ctrl V', 'copy the rule, paste behind it'],
    ['/', 'search'],
    ['Ctrl Z', 'undo; in a field, what was typed there'],
    ['Ctrl Y', 'redo'],
  ],
  '/desk': [
    ...list,
    ['Space', 'select'],
    ['Enter', 'open the order, and go into it'],
    ['Esc', 'from the order back to its row; in the list, clear the selection'],
    ['/', 'search; Enter or Esc leads back to the list'],
    ['a', 'in the list: select all shown'],
    ['b', 'in the list: plan a batch of the selected'],
    ['e', 'in the list: decide by hand for the selected'],
    ['w', 'in the list: write to the buyers of the selected'],
    ['Ctrl V', 'in the list: a column of a spreadsheet for the selected'],
    ['1 … 6', 'take a way out of what is wrong with the order'],
    ['Shift ← →', 'at the head of a column: narrower, wider'],
  ],
  '/dispatch': [...list, ['Space', 'in a plan: buy the order, or not'], ['Esc', 'close the batch']],
  '/dispatch/slips': [['Enter', 'press a button']],
  '/tracking': [...list, ['Enter', 'open the order of the parcel'], ['Esc', 'clear the filters']],
  '/tracking/told': [['Enter', 'open the order, try again']],
  '/tracking/arrivals': [['Enter', 'press a button']],
  '/tracking/numbers': [['Enter', 'in the list: the next line']],
  '/ledger': [['Enter', 'open a part, press a button']],
}

const everywhere: Keys = [
  ['Tab', 'next control'],
  ['Alt 1 … 6', 'go along the line: Intake, Rules, Desk, Dispatch, Tracking, Ledger'],
  ['Ctrl K', 'find anything: order, name, number, rule, screen'],
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
