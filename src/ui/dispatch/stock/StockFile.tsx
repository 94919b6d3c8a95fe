'use client'
import type { StockPreview } from '@/usecases/dispatch/stock/stockFile'
import { FileHead } from '../../kit/FileHead'
import { count } from '../../kit/format'

/** What taking a file of counts would change, before it counts. */
export function StockFile({
  file,
  preview,
  locations,
  onTake,
  onCancel,
}: {
  file: File
  preview: StockPreview
  locations: Readonly<Record<string, string>>
  onTake: () => Promise<void>
  onCancel: () => void
}) {
  const { problems, changes, some, counts } = preview
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 pb-8" tabIndex={0} role="region" aria-label="File of counts">
      <FileHead
        file={file}
        about={
          changes === 0
            ? 'says what is known already'
            : `${count(counts)} counts, ${count(changes)} of them differ; not taken yet`
        }
        onTake={problems.length === 0 && changes > 0 ? onTake : null}
        onCancel={onCancel}
      />
      {problems.length > 0 && (
        <section className="mb-4 bg-lost-soft px-3 py-2">
          <p className="font-semibold text-lost">
            {count(problems.length)} {problems.length === 1 ? 'cell' : 'cells'} cannot be read. Correct the file and
            choose it again; nothing is changed.
          </p>
          <ul>
            {problems.map(({ line, column, sentence }, i) => (
              <li key={i}>
                Line {line}, {column}: {sentence}
              </li>
            ))}
          </ul>
        </section>
      )}
      {some.length > 0 && (
        <table className="w-full bg-sheet">
          <thead>
            <tr className="border-y border-hair text-left text-small text-soft">
              <th className="px-3 py-1 font-normal">SKU</th>
              <th className="font-normal">Location</th>
              <th className="text-right font-normal">Before</th>
              <th className="px-3 text-right font-normal">After</th>
            </tr>
          </thead>
          <tbody>
            {some.map(({ sku, location, before, onHand }) => (
              <tr key={`${location} ${sku}`} className="border-b border-hair/60">
                <td className="px-3 py-1 font-mono text-small">{sku}</td>
                <td>{locations[location] ?? location}</td>
                <td className="text-right text-soft tabular-nums">{before === null ? 'not counted' : count(before)}</td>
                <td className="px-3 text-right font-semibold tabular-nums">{count(onHand)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  )
}
