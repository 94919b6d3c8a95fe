'use client'
import { sheetLayouts } from '@/core/papers'
import { Select } from '../kit/Field'
import { paper } from '../kit/locale'
import type { usePrintProfile } from './printProfile'

/** How this station prints: which papers, on what, in which order. */
export function PrintChoices({ profile, put }: Pick<ReturnType<typeof usePrintProfile>, 'profile' | 'put'>) {
  const cells = sheetLayouts.find(({ id }) => id === profile.layout)?.cells.length ?? 1
  const choice = (
    label: string,
    value: string,
    options: readonly (readonly [string, string])[],
    onChange: (value: string) => void,
  ) => (
    <label className="flex items-center justify-between gap-2 text-small text-soft">
      {label}
      <Select value={value} onChange={(event) => onChange(event.target.value)}>
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </Select>
    </label>
  )
  return (
    <details className="mt-2 text-small">
      <summary className="cursor-pointer text-act">How this station prints</summary>
      <div className="mt-1.5 grid gap-1.5 bg-tint p-2.5">
        {choice(
          'What',
          profile.parts,
          [
            ['both', 'slips and labels'],
            ['labels', 'labels only'],
            ['slips', 'slips only'],
          ],
          (parts) => put({ parts: parts as typeof profile.parts }),
        )}
        {choice(
          'For',
          profile.format,
          [
            ['pdf', 'PDF'],
            ['zpl', 'label printer (ZPL)'],
            ['png', 'image (PNG), first page'],
          ],
          (format) => put({ format: format as typeof profile.format }),
        )}
        {profile.format === 'pdf'
          ? choice(
              'Paper',
              profile.layout,
              sheetLayouts
                // The papers of the seller's printers, and what this station has chosen.
                .filter(({ id }) => id === 'thermal' || id.startsWith(paper().toLowerCase()) || id === profile.layout)
                .map(({ id, name }) => [id, name] as const),
              (layout) => put({ layout, start: 1 }),
            )
          : choice(
              'Resolution',
              String(profile.dpi),
              [
                ['203', '203 dpi'],
                ['300', '300 dpi'],
              ],
              (dpi) => put({ dpi: dpi === '300' ? 300 : 203 }),
            )}
        {profile.format === 'pdf' &&
          cells > 1 &&
          choice(
            'First free place',
            String(profile.start),
            Array.from({ length: cells }, (_, i) => [String(i + 1), `${i + 1} of ${cells}`] as const),
            (start) => put({ start: Number(start) }),
          )}
        {choice(
          'This bench',
          `${profile.bench ?? 1} ${profile.benches ?? 1}`,
          [1, 2, 3, 4, 5, 6].flatMap((benches) =>
            Array.from(
              { length: benches },
              (_, i) =>
                [
                  `${i + 1} ${benches}`,
                  benches === 1 ? 'packs all of it' : `packs part ${i + 1} of ${benches}`,
                ] as const,
            ),
          ),
          (value) => {
            const [bench, benches] = value.split(' ').map(Number)
            put({ bench, benches })
          },
        )}
        {choice(
          'Sorted by',
          profile.sort,
          [
            ['batch', 'batch'],
            ['location', 'location'],
            ['service', 'service'],
            ['sku', 'SKU'],
            ['number', 'order number'],
          ],
          (sort) => put({ sort: sort as typeof profile.sort }),
        )}
      </div>
    </details>
  )
}
