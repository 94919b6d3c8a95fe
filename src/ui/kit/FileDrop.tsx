'use client'
import { useRef, useState, type DragEvent, type ReactNode } from 'react'

/** Takes a file by drop or by choosing. `onFile` may take its time; meanwhile the button says so. */
export function FileDrop({
  id,
  label,
  accept,
  onFile,
  children,
}: {
  id: string
  label: string
  accept: string
  onFile: (file: File) => Promise<unknown>
  children: ReactNode
}) {
  const field = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const [busy, setBusy] = useState(false)
  const send = async (file: File | undefined): Promise<void> => {
    if (!file) return
    setBusy(true)
    await onFile(file).finally(() => setBusy(false))
    if (field.current) field.current.value = ''
  }
  const drop = (event: DragEvent): void => {
    event.preventDefault()
    setOver(false)
    void send(event.dataTransfer.files[0])
  }
  return (
    <div
      onDragOver={(event) => {
        event.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`mt-3 flex items-center gap-3 border border-dashed px-3 py-3 ${over ? 'border-act bg-act-soft' : 'border-hair'}`}
    >
      <input
        ref={field}
        id={id}
        type="file"
        accept={accept}
        className="peer sr-only"
        onChange={(event) => void send(event.target.files?.[0])}
      />
      <label
        htmlFor={id}
        className="shrink-0 cursor-pointer rounded-[3px] border border-act px-3 py-1 text-act peer-focus-visible:outline-2 peer-focus-visible:outline-act hover:bg-act-soft"
      >
        {busy ? 'Reading …' : label}
      </label>
      <span className="text-soft">{children}</span>
    </div>
  )
}
