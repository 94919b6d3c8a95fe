import { type Database, type LabelRow, labelByToken } from '@/data'

/** Whether a text can be the unguessable part of a link; what cannot is looked for nowhere. */
export const isLinkToken = (text: string): boolean => /^[\w-]{20,64}$/.test(text)

/** The label behind the link in a letter, whatever became of it; undefined when there is none. */
export const labelByLink = async (db: Database, token: string): Promise<LabelRow | undefined> =>
  isLinkToken(token) ? labelByToken(db, token) : undefined
