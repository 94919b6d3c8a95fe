'use client'
import { X } from 'lucide-react'
import { Toaster, toast } from 'sonner'

/** Where the messages of the page appear. */
export const Messages = () => (
  <Toaster position="bottom-center" expand visibleToasts={4} containerAriaLabel="Messages" offset={16} />
)

/** Shows a message; `undo` takes back what it is about. */
export function show(text: string, { tone = 'plain', undo }: { tone?: 'plain' | 'bad'; undo?: () => void }): void {
  toast.custom(
    (id) => (
      <div
        className={`flex w-max max-w-2xl items-center gap-4 rounded-[3px] py-2 font-sans pr-2 pl-4 shadow-lg ${tone === 'bad' ? 'bg-lost-soft text-lost' : 'bg-ink text-sheet'}`}
      >
        <span>{text}</span>
        {undo && (
          <button
            className="font-semibold underline"
            onClick={() => {
              undo()
              toast.dismiss(id)
            }}
          >
            Undo
          </button>
        )}
        <button
          aria-label="Close the message"
          className="p-1 opacity-70 hover:opacity-100"
          onClick={() => toast.dismiss(id)}
        >
          <X className="size-3.5" />
        </button>
      </div>
    ),
    { duration: undo || tone === 'bad' ? 12_000 : 4_000 },
  )
}
