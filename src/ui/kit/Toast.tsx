'use client'
import { createContext, useCallback, useContext, useState, type ReactNode } from 'react'

interface Toast {
  readonly id: number
  readonly text: string
  readonly tone: 'plain' | 'bad'
  readonly undo?: () => void
}
type Say = (text: string, more?: { tone?: 'plain' | 'bad'; undo?: () => void }) => void

const Context = createContext<Say>(() => undefined)

/** Short messages at the foot of the page; one with an undo stays longer. */
export const useSay = (): Say => useContext(Context)

export function ToastProvider({ children }: { children: ReactNode }) {
  const [toasts, setToasts] = useState<readonly Toast[]>([])
  const drop = useCallback((id: number) => setToasts((list) => list.filter((toast) => toast.id !== id)), [])
  const say = useCallback<Say>(
    (text, more) => {
      const id = Date.now() + Math.random()
      setToasts((list) => [...list.slice(-2), { id, text, tone: more?.tone ?? 'plain', undo: more?.undo }])
      setTimeout(() => drop(id), more?.undo || more?.tone === 'bad' ? 9000 : 4000)
    },
    [drop],
  )
  return (
    <Context value={say}>
      {children}
      <div
        role="status"
        aria-live="polite"
        className="pointer-events-none fixed inset-x-0 bottom-4 z-50 flex flex-col items-center gap-2"
      >
        {toasts.map((toast) => (
          <div
            key={toast.id}
            className={`pointer-events-auto flex max-w-2xl items-center gap-4 px-4 py-2 shadow-lg ${toast.tone === 'bad' ? 'bg-lost-soft text-lost' : 'bg-ink text-sheet'}`}
          >
            <span>{toast.text}</span>
            {toast.undo && (
              <button
                className="font-semibold underline"
                onClick={() => {
                  toast.undo?.()
                  drop(toast.id)
                }}
              >
                Undo
              </button>
            )}
          </div>
        ))}
      </div>
    </Context>
  )
}
