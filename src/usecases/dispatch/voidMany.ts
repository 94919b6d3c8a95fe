import type { Answer, Application } from '../shared/application'
import { requestVoid } from './voidLabel'

/** Asks for many labels to be voided; those that cannot be are named with the reason, and stay. */
export async function voidMany(
  gharry: Application,
  labels: readonly number[],
): Promise<Answer<{ readonly asked: number; readonly refused: readonly { label: number; sentence: string }[] }>> {
  const refused: { label: number; sentence: string }[] = []
  for (const label of new Set(labels)) {
    const answer = await requestVoid(gharry, label)
    if (!answer.ok) refused.push({ label, sentence: answer.sentence })
  }
  return { ok: true, asked: new Set(labels).size - refused.length, refused }
}
