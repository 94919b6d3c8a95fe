'use client'
import type { AnswerOf } from '@/usecases/endpoints'
import { Button } from '../kit/Button'

export type Badge = AnswerOf<'POST /api/people/badges'> & { readonly name: string }

/** A badge that was just made: to be printed, with the code that is told apart from it. */
export const BadgeShown = ({ badge, onDone }: { badge: Badge; onDone: () => void }) => (
  <div role="status" className="mb-3 max-w-3xl bg-wait-soft p-3">
    <p>
      The badge of {badge.name}, and its code <b className="font-mono tracking-widest">{badge.code}</b>. Print the
      badge; tell the code. Both are shown this once.
    </p>
    <p className="mt-2 flex flex-wrap items-center gap-4">
      <img src={badge.picture} alt={`Badge ${badge.badge}`} className="h-20 bg-white p-2" />
      <a
        className="text-act underline decoration-hair underline-offset-4"
        href={badge.picture}
        download={`badge ${badge.name}.svg`}
      >
        Keep it as a picture
      </a>
      <Button kind="quiet" onClick={onDone}>
        I have it
      </Button>
    </p>
  </div>
)
