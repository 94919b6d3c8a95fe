'use client'
import { useRef, useState, type DragEvent } from 'react'
import type { FilePreview } from '@/adapters'
import { sentenceOf } from '../kit/api'
import { useSay } from '../kit/Toast'
import type { ReceivedFile } from './Intake'

/** Takes a file by drop or by choosing, and has the server look at its head. */
export function FileDrop({ onReceived }: { onReceived: (received: ReceivedFile) => void }) {
  const say = useSay()
  const field = useRef<HTMLInputElement>(null)
  const [over, setOver] = useState(false)
  const [busy, setBusy] = useState(false)
  const send = async (file: File | undefined): Promise<void> => {
    if (!file) return
    setBusy(true)
    try {
      const response = await fetch('/api/intake/files', { method: 'POST', body: file })
      const body = (await response.json()) as { file: string; preview: FilePreview; sentence?: string }
      if (!response.ok) throw new Error(body.sentence)
      onReceived({ file: body.file, fileName: file.name, preview: body.preview })
    } catch (error) {
      say(sentenceOf(error), { tone: 'bad' })
    } finally {
      setBusy(false)
      if (field.current) field.current.value = ''
    }
  }
  const drop = (event: DragEvent): void => {
    event.preventDefault()
    setOver(false)
    void send(event.dataTransfer.files[0])
  }
  return (
    <div onDragOver={(event) => { event.preventDefault(); setOver(true) }} onDragLeave={() => setOver(false)} onDrop={drop} className={`mt-3 flex items-center gap-3 border border-dashed px-3 py-3 ${over ? 'border-act bg-act-soft' : 'border-hair'}`}>
      <input ref={field} id="order-file" type="file" accept=".csv,.txt,.tsv,text/csv" className="sr-only" onChange={(event) => void send(event.target.files?.[0])} />
      <label htmlFor="order-file" className="cursor-pointer rounded-[3px] border border-act px-3 py-1 text-act hover:bg-act-soft">{busy ? 'Reading …' : 'Choose a file of orders'}</label>
      <span className="text-soft">or drop it here: CSV with a header row, one row for each order line. You see its columns before anything is imported.</span>
    </div>
  )
}
