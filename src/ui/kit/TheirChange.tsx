'use client'
import { Button } from './Button'

/** Says that somebody else has changed the same meanwhile, with both beside each other; a person chooses. */
export function TheirChange({
  what,
  mine,
  theirs,
  onTake,
  onKeep,
}: {
  what: string
  /** Each line of both, as a person reads it; only what differs is shown. */
  mine: readonly string[]
  theirs: readonly string[]
  onTake: () => void
  onKeep: () => void
}) {
  const [ownMine, ownTheirs] = [
    mine.filter((line) => !theirs.includes(line)),
    theirs.filter((line) => !mine.includes(line)),
  ]
  const side = (title: string, lines: readonly string[]) => (
    <div className="min-w-0 flex-1">
      <p className="text-small text-soft">{title}</p>
      <ul>
        {lines.slice(0, 8).map((line) => (
          <li key={line} className="truncate" title={line}>
            {line}
          </li>
        ))}
        {lines.length > 8 && <li className="text-soft">and {lines.length - 8} more</li>}
        {lines.length === 0 && <li className="text-soft">nothing that the other has not</li>}
      </ul>
    </div>
  )
  return (
    <div role="alert" className="my-2 bg-wait-soft p-3">
      <p className="font-semibold text-wait">Somebody else has changed {what} while you were editing.</p>
      <div className="mt-1 flex gap-6">
        {side('Only in yours', ownMine)}
        {side('Only in theirs', ownTheirs)}
      </div>
      <p className="mt-2 flex gap-2">
        <Button onClick={onTake}>Take theirs</Button>
        <Button kind="quiet" onClick={onKeep}>
          Keep mine, and replace theirs when I save
        </Button>
      </p>
    </div>
  )
}
