'use client'
import type { ItemPreview } from '@/usecases/intake/items'
import { FileHead } from '../../kit/FileHead'
import { count } from '../../kit/format'

/** What taking a file of items would change, before it counts. */
export function ItemFile({
  file,
  preview,
  onTake,
  onCancel,
}: {
  file: File
  preview: ItemPreview
  onTake: () => Promise<void>
  onCancel: () => void
}) {
  const { problems, added, changed } = preview
  const nothing = added.length + changed.length === 0
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="File of items">
      <FileHead
        file={file}
        about={
          nothing
            ? 'says what is known already'
            : `${count(added.length)} new items, ${count(changed.length)} cells that differ; not taken yet`
        }
        onTake={problems.length === 0 && !nothing ? onTake : null}
        onCancel={onCancel}
      />
      {problems.length > 0 && (
        <section className="mb-4 bg-lost-soft">
          <p className="px-3 py-2 font-semibold text-lost">
            {count(problems.length)} {problems.length === 1 ? 'cell' : 'cells'} cannot be read. Correct the file and
            choose it again; nothing is changed.
          </p>
          <table className="w-full">
            <thead>
              <tr className="border-b border-hair text-small text-soft">
                <th className="px-3">Line</th>
                <th>Column</th>
                <th>What is wrong</th>
              </tr>
            </thead>
            <tbody>
              {problems.map((problem, i) => (
                <tr key={i} className="border-b border-hair/60">
                  <td className="px-3 py-1">{problem.line}</td>
                  <td>{problem.column}</td>
                  <td>{problem.sentence}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {changed.length > 0 && (
        <table className="w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-small text-soft">
              <th className="px-3 py-1">SKU</th>
              <th>What</th>
              <th>Before</th>
              <th>After</th>
            </tr>
          </thead>
          <tbody>
            {changed.slice(0, 500).map((cell, i) => (
              <tr key={i} className="border-b border-hair/60">
                <td className="px-3 py-1 font-mono text-small">{cell.sku}</td>
                <td>{cell.column}</td>
                <td className="text-soft">{cell.before || 'unknown'}</td>
                <td className="font-semibold">{cell.after || 'unknown'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {added.length > 0 && (
        <p className="mt-3">
          <b className="font-semibold">New:</b> {added.slice(0, 200).join(', ')}
          {added.length > 200 && ` and ${count(added.length - 200)} more`}
        </p>
      )}
    </div>
  )
}
