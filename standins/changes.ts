import type { Books } from './books'
import type { FaultSwitches } from './faults'

/** What changed of a kind after a running number, oldest change first; with the fault "twice" each comes twice. */
export function changesOf<T>(
  books: Books,
  hits: FaultSwitches['hits'],
  kind: string,
  after: number,
  most: number,
): { readonly documents: T[]; readonly last: number; readonly more: boolean } {
  const rows = books.changedAfter<T>(kind, after, most + 1)
  const some = rows.slice(0, most)
  const documents = some.map(({ document }) => document)
  return {
    documents: hits('twice') ? [...documents, ...documents] : documents,
    last: some.at(-1)?.seq ?? after,
    more: rows.length > most,
  }
}
