'use client'
import { Check, CircleAlert, Scan, X } from 'lucide-react'

/** What a screen for scans says last: how it sounds and looks, and in which words. */
export interface Said {
  readonly tone: 'idle' | 'right' | 'done' | 'wrong' | 'ask'
  readonly words: string
  readonly more?: string
}

const looks: Readonly<Record<Said['tone'], string>> = {
  idle: 'bg-tint text-ink',
  right: 'bg-done-soft text-done',
  done: 'bg-done text-paper',
  wrong: 'bg-lost text-paper',
  ask: 'bg-wait-soft text-wait',
}
const marks = { idle: Scan, right: Check, done: Check, wrong: X, ask: CircleAlert } as const

/** What was scanned last, so large that one second is enough. */
export function Band({ said, busy = false }: { said: Said; busy?: boolean }) {
  const Mark = marks[said.tone]
  return (
    <div
      role={said.tone === 'wrong' ? 'alert' : 'status'}
      aria-busy={busy}
      className={`flex items-center gap-5 px-6 py-4 max-[599px]:gap-3 max-[599px]:px-3 ${looks[said.tone]} ${said.tone === 'wrong' ? 'border-y-8 border-double border-paper' : ''}`}
    >
      <Mark className="size-14 shrink-0 max-[599px]:size-9" strokeWidth={2.5} aria-hidden />
      <p className="min-w-0">
        <b className="block text-[32px] leading-tight font-bold max-[599px]:text-[22px]">
          {busy ? 'One moment …' : said.words}
        </b>
        {said.more && !busy && <span className="text-head">{said.more}</span>}
      </p>
    </div>
  )
}
