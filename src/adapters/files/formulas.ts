/*
 * Cells that a spreadsheet would take for a formula. Every CSV that Gharry writes goes through `escaped`; reading one
 * takes the mark off again.
 */

const numeric = /^[+-]?[\d.,]{1,40}(?: ?%)?$/
const formula = /^'{0,40}[=+\-@\t\r\n＝＋－＠]/

/**
 * A cell that begins like a formula gets an apostrophe before it, so that it stays the text that it is; plain numbers
 * stay numbers.
 */
export const escaped = (cell: string): string => (formula.test(cell) && !numeric.test(cell) ? `'${cell}` : cell)

/** The text of a cell as it was before `escaped`. */
export const unescaped = (cell: string): string => (cell.startsWith("'") && formula.test(cell) ? cell.slice(1) : cell)
