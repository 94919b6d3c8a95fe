import type { Database } from './database'

/** What is kept of a picture or paper: its content, or the file that has it; then the content is empty. */
export interface KeptContent {
  readonly content: Buffer
  readonly file: string | null
}

/** A label that the carrier drew itself, as it came. */
export interface LabelPaper extends KeptContent {
  readonly labelId: number
  /** Of the parcel; 1 is the first. */
  readonly position: number
  readonly what: 'label' | 'return'
  readonly format: 'pdf' | 'zpl'
}

/** Keeps labels as they came. */
export async function addLabelPapers(db: Database, papers: readonly LabelPaper[]): Promise<void> {
  for (const paper of papers) await db('label_papers').insert(paper)
}

/** The labels of a shipment that its carrier drew; none where they are drawn here. */
export const labelPapersOf = (db: Database, label: number): Promise<LabelPaper[]> =>
  db('label_papers').where({ labelId: label }).orderBy('position')

/** The files of the papers of these orders. */
export const paperFilesOf = async (db: Database, orders: readonly number[]): Promise<string[]> =>
  (
    (await db('label_papers')
      .whereIn('label_id', db('labels').whereIn('order_id', orders).select('id'))
      .whereNotNull('file')
      .select('file')) as { file: string }[]
  ).map(({ file }) => file)

/** Which of these shipments have labels that their carriers drew, and of which format. */
export async function drawnElsewhere(
  db: Database,
  labels: readonly number[],
): Promise<ReadonlyMap<number, LabelPaper['format']>> {
  const rows = (await db('label_papers').distinct('label_id', 'format').whereIn('label_id', labels)) as Pick<
    LabelPaper,
    'labelId' | 'format'
  >[]
  return new Map(rows.map(({ labelId, format }) => [labelId, format]))
}
