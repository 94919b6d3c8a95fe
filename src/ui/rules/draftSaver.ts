import type { Finding } from '@/core/rulebook/findings'
import type { Rulebook } from '@/core/rulebook/language'

export type SaveState = 'saved' | 'saving' | 'unsaved' | 'conflict'

export interface Saved {
  readonly revision: number
  readonly findings: readonly Finding[]
}

/** What is told of the saving: each part only when it changes. */
export interface Told {
  readonly state?: SaveState
  readonly problem?: string
  readonly findings?: readonly Finding[]
}

export interface Trouble {
  readonly sentence: string
  /** Somebody else has saved meanwhile. */
  readonly conflict: boolean
  /** It may go better in a while. */
  readonly again: boolean
}

export interface DraftSaver {
  /** Has a draft saved a moment later, unless a newer one comes. */
  readonly want: (draft: Rulebook) => void
  /** Saves at once what is not saved yet; gives the revision, null when it could not be saved. */
  readonly settled: () => Promise<number | null>
  /**
   * Goes on from what somebody else saved, or from where an `unsaved` draft began; what was not saved yet is let go.
   */
  readonly goOnFrom: (revision: number, unsaved?: boolean) => void
  readonly revision: () => number
  /** The screen is left: what is not saved yet is tried at once, and then no more. */
  readonly leave: () => void
  /** Something would be lost if the page were closed. */
  readonly busy: () => boolean
}

/**
 * Saves drafts one after another, each against the revision of the one before; of those that come meanwhile only the
 * newest. One that could not be saved is kept, and goes with the next one, or by itself where another try may help.
 * `trouble` says of an error what is shown of it.
 */
export function draftSaver(
  first: number,
  put: (draft: Rulebook, revision: number) => Promise<Saved>,
  trouble: (error: unknown) => Trouble,
  tell: (told: Told) => void,
  moment = 200,
): DraftSaver {
  let revision = first
  let wanted: Rulebook | null = null
  let running: Promise<void> | null = null
  let timer: ReturnType<typeof setTimeout> | undefined
  let left = false

  function save(): Promise<void> {
    running ??= saveAll().finally(() => {
      running = null
    })
    return running
  }

  async function saveAll(): Promise<void> {
    while (wanted) {
      const next = wanted
      wanted = null
      tell({ state: 'saving' })
      try {
        const saved = await put(next, revision)
        revision = saved.revision
        tell({ state: wanted ? 'unsaved' : 'saved', problem: '', findings: saved.findings })
      } catch (error) {
        const { sentence, conflict, again } = trouble(error)
        wanted ??= next
        if (again) later(15 * moment)
        return tell({ state: conflict ? 'conflict' : 'unsaved', problem: sentence })
      }
    }
  }

  function later(wait: number): void {
    clearTimeout(timer)
    if (!left) timer = setTimeout(() => void save(), wait)
  }

  return {
    want: (draft) => {
      left = false
      wanted = draft
      tell({ state: 'unsaved' })
      later(moment)
    },
    settled: async () => {
      clearTimeout(timer)
      await running
      await save()
      return wanted ? null : revision
    },
    goOnFrom: (next, unsaved = false) => {
      clearTimeout(timer)
      revision = next
      wanted = null
      tell({ state: unsaved ? 'unsaved' : 'saved', problem: '' })
    },
    leave: () => {
      left = true
      clearTimeout(timer)
      // One that is on its way may yet fail: then it is tried once more, too.
      if (running) void running.then(() => save())
      else void save()
    },
    revision: () => revision,
    busy: () => wanted !== null || running !== null,
  }
}
