'use client'
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react'
import {
  createContext,
  useContext,
  useEffect,
  useEffectEvent,
  useRef,
  useState,
  type KeyboardEvent,
  type ReactNode,
} from 'react'
import { useAnnounced } from '../kit/Announcer'
import { Trying, useTry } from './trying'

/**
 * When something was last added to a sentence: the word that comes with it opens by itself, and the sentence is typed
 * on.
 */
let addedAt = -Infinity
export const openWhatComes = (): void => {
  addedAt = performance.now()
}
const maxWait = 1000

/**
 * A rule that does nothing yet is being written: behind a word that is done, the next "+" (`data-next`) opens by
 * itself, so that the sentence is typed on.
 */
export const Writing = createContext(false)

function openNext(from: HTMLElement | null): void {
  // The word closes first, and what was taken is drawn.
  requestAnimationFrame(() => {
    const behind = [...(from?.closest('[data-sentence]')?.querySelectorAll<HTMLElement>('[data-next]') ?? [])].find(
      (next) => ((from?.compareDocumentPosition(next) ?? 0) & Node.DOCUMENT_POSITION_FOLLOWING) !== 0,
    )
    behind?.click()
  })
}

/**
 * A word of a sentence that opens in place. With `opens` it does so by itself where it was just added (openWhatComes).
 * Enter or a click opens it; Delete or Backspace takes it away where it can be taken away. Its editor gets `close`;
 * for values and operators it goes on in a rule that is being written, others are given `goOn` for it.
 */
export function Word({
  label,
  tone = 'value',
  children,
  onRemove,
  title,
  opens = false,
  next = false,
}: {
  label: string
  tone?: 'fact' | 'operator' | 'value' | 'joint' | 'add'
  children: (close: () => void, goOn: (() => void) | null) => ReactNode
  onRemove?: () => void
  title?: string
  opens?: boolean
  /** It is what comes next behind a word that is done. */
  next?: boolean
}) {
  const looks = {
    fact: 'text-ink hover:bg-act-soft',
    operator: 'text-soft hover:bg-act-soft',
    value: 'font-semibold text-act underline decoration-hair decoration-2 underline-offset-4 hover:bg-act-soft',
    joint: 'text-soft italic hover:bg-act-soft',
    // Gone until the row is looked at, so that sentences have no gaps.
    add: 'text-act hover:bg-act-soft hidden group-hover:inline group-focus-within:inline data-open:inline pointer-coarse:inline',
  }
  const button = useRef<HTMLButtonElement>(null)
  const writing = useContext(Writing)
  const leaving = (close: () => void) => () => {
    close()
    if (writing) openNext(button.current)
  }
  // A rulebook has thousands of words, and popovers are dear: a word gets its own when it is opened first.
  const [live, setLive] = useState(false)
  const openWhenNew = useEffectEvent(() => {
    if (!opens || performance.now() - addedAt > maxWait) return
    addedAt = -Infinity
    setLive(true)
  })
  useEffect(() => openWhenNew(), [])
  useEffect(() => {
    if (live) button.current?.click()
  }, [live])
  const keys = (event: KeyboardEvent): void => {
    if (onRemove && (event.key === 'Delete' || event.key === 'Backspace')) {
      event.preventDefault()
      onRemove()
    }
  }
  const look = `rounded-[2px] px-0.5 text-left ${looks[tone]} ${tone === 'add' && label.length > 6 ? 'inline!' : ''}`
  // A sign alone says what it does.
  const said = /^\W+$/.test(label) ? title : undefined
  const shown = label === '' ? <span className="text-lost">…</span> : label
  if (!live)
    return (
      <button
        type="button"
        title={title}
        aria-label={said}
        aria-expanded={false}
        data-next={next || undefined}
        onKeyDown={keys}
        onClick={() => setLive(true)}
        className={look}
      >
        {shown}
      </button>
    )
  return (
    <Popover as="span" className="inline">
      <PopoverButton
        ref={button}
        title={title}
        aria-label={said}
        data-next={next || undefined}
        onKeyDown={keys}
        className={look}
      >
        {shown}
      </PopoverButton>
      <PopoverPanel
        focus
        anchor={{ to: 'bottom start', gap: 4 }}
        className="z-30 w-72 border border-hair bg-sheet shadow-xl"
      >
        {({ close }) => (
          <div
            onKeyDown={(event) => {
              if (event.key !== 'Escape') event.stopPropagation()
            }}
          >
            {children(
              tone === 'value' || tone === 'operator' ? leaving(close) : close,
              writing ? leaving(close) : null,
            )}
            <EffectLine />
            {onRemove && <RemoveButton onRemove={onRemove} close={close} />}
          </div>
        )}
      </PopoverPanel>
    </Popover>
  )
}

/** What the value that is typed or pointed at would do to real orders. */
function EffectLine() {
  const { effect } = useContext(Trying)
  const announced = useAnnounced<HTMLParagraphElement>()
  return (
    effect && (
      <p
        ref={announced}
        role="status"
        aria-live="off"
        aria-label="What it would change"
        className="border-t border-hair px-2 py-1.5 text-small"
      >
        {effect}
      </p>
    )
  )
}

/** Taking a word away is tried too, while it is pointed at. */
function RemoveButton({ onRemove, close }: { onRemove: () => void; close: () => void }) {
  const tryOut = useTry()
  const [begin, end] = [(): void => tryOut(onRemove), (): void => tryOut(null)]
  return (
    <button
      className="w-full border-t border-hair px-2 py-1.5 text-left text-lost hover:bg-lost-soft"
      onFocus={begin}
      onMouseEnter={begin}
      onBlur={end}
      onMouseLeave={end}
      onClick={() => {
        onRemove()
        close()
      }}
    >
      Take this away
    </button>
  )
}
