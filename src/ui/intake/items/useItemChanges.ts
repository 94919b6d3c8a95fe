import type { ItemPreview, ItemsView, ItemView } from '@/usecases/intake/items'
import { call, sendFile } from '../../kit/api'
import { weightText } from '../../kit/format'
import { useSay } from '../../kit/Toast'
import { useChange } from '../../kit/useChange'
import type { Changes } from './itemChanges'

/** A file of items, and what taking it would change. */
export interface LookedFile {
  readonly file: File
  readonly preview: ItemPreview
}

/** What can be done with the item list, on top of the version that is seen; each says whether it was done. */
export function useItemChanges(version: number) {
  const change = useChange(['items'])
  const say = useSay()
  return {
    save: (changes: Changes): Promise<boolean> => {
      // An emptied cell means that nothing is known any more, which the table writes as a dash.
      const rows = Object.entries(changes).map(([sku, row]) => ({
        sku,
        ...Object.fromEntries(
          Object.entries(row).map(([column, { text }]) => [column, text.trim() === '' ? '-' : text]),
        ),
      }))
      return change(
        () => call('PUT /api/intake/items', { body: { rows, version } }),
        'Saved; the waiting orders have it at once',
      )
    },
    add: (sku: string): Promise<boolean> =>
      change(
        () => call('PUT /api/intake/items', { body: { rows: [{ sku }], version } }),
        `${sku} is on the list; say what it weighs`,
      ),
    remove: async ({ row }: ItemView): Promise<void> => {
      const sku = row.sku ?? ''
      const undo = (): void =>
        void change(async () => {
          const now = await call('GET /api/intake/items', { query: { q: sku } })
          await call('PUT /api/intake/items', { body: { rows: [row], version: now.version } })
        }, `${sku} is on the list again`)
      if (await change(() => call('DELETE /api/intake/items', { body: { sku, version } })))
        say(`${sku} is off the list`, { undo })
    },
    look: (file: File, onLooked: (looked: LookedFile) => void): Promise<boolean> =>
      change(
        () => sendFile('POST /api/intake/items/file', { file }),
        (preview) => onLooked({ file, preview }),
      ),
    take: ({ file, preview }: LookedFile): Promise<boolean> =>
      change(
        () => sendFile('PUT /api/intake/items/file', { query: { version: preview.version }, file }),
        'The items are taken; the waiting orders have them at once',
      ),
    /** Takes the weight that corrections at the bench speak for. */
    learn: ({ sku, after }: ItemsView['learned'][number]): Promise<boolean> =>
      change(
        () => call('POST /api/intake/items/learned', { body: { sku, version } }),
        `${sku} weighs ${weightText(after)} now, in waiting orders too`,
      ),
  }
}
