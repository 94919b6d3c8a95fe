import type { BoughtLabel } from '@/adapters'
import { type LabelPaper, labelPapersOf } from '@/data'
import type { Application } from '../shared/application'
import { contentOf, keepContent } from '../shared/keptContent'

/** The labels that a carrier drew, as they are kept: before the purchase is written down, which names them. */
export async function keepPapers(
  gharry: Application,
  labelId: number,
  parcels: BoughtLabel['parcels'],
): Promise<LabelPaper[]> {
  const papers: LabelPaper[] = []
  for (const [i, { document, returnDocument }] of parcels.entries())
    for (const [what, drawn] of [
      ['label', document],
      ['return', returnDocument],
    ] as const) {
      if (!drawn) continue
      const name = `${labelId}-${i + 1}-${what}.${drawn.format}`
      const kept = await keepContent(gharry, 'papers', name, drawn.content)
      papers.push({ labelId, position: i + 1, what, format: drawn.format, ...kept })
    }
  return papers
}

/** The labels of a shipment that its carrier drew, with their content; none where they are drawn here. */
export async function drawnPapersOf(gharry: Application, label: number): Promise<LabelPaper[]> {
  const papers = await labelPapersOf(gharry.db, label)
  return Promise.all(papers.map(async (paper) => ({ ...paper, content: await contentOf(gharry, paper), file: null })))
}
