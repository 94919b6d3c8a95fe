/** Where backups are kept: each is a folder of sealed parts. */
export interface BackupPlace {
  /** Where that is, in words; never with a password. */
  readonly words: string
  /** The names of the backups that are there. */
  readonly list: () => Promise<readonly string[]>
  readonly parts: (backup: string) => Promise<readonly { readonly name: string; readonly bytes: number }[]>
  /** Takes a file over: it is there whole, or not at all. */
  readonly take: (backup: string, name: string, file: string) => Promise<void>
  /** Fetches a part into a file. */
  readonly fetch: (backup: string, name: string, file: string) => Promise<void>
  readonly remove: (backup: string) => Promise<void>
}

/** A place that cannot be used, with what to do about it. */
export class PlaceProblem extends Error {}

/** Names that Gharry gives; nothing else in the place is touched. */
export const isBackupName = (name: string): boolean => /^(?:before-[\w-]{1,60}-)?\d{8}T\d{6}Z$/.test(name)
export const isPartName = (name: string): boolean => /^[\w-]{1,60}\.sealed$/.test(name)
