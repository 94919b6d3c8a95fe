'use client'
import { sendFile } from '../kit/api'
import { FileDrop as Drop } from '../kit/FileDrop'
import { useChange } from '../kit/useChange'
import type { ReceivedFile } from './Intake'

/** Takes a file of orders, and has the server look at its head. */
export function FileDrop({ onReceived }: { onReceived: (received: ReceivedFile) => void }) {
  const change = useChange()
  const look = (file: File): Promise<boolean> =>
    change(
      () => sendFile('POST /api/intake/files', { file }),
      (received) => onReceived({ ...received, fileName: file.name }),
    )
  return (
    <Drop id="order-file" label="Choose a file of orders" accept=".csv,.txt,.tsv,.xlsx,text/csv" onFile={look}>
      or drop it here: CSV or XLSX with a header row, one row for each order line. You see its columns before anything
      is imported.{' '}
      <a className="text-act underline" href="/api/intake/files/pattern?format=xlsx" download>
        A pattern
      </a>{' '}
      to fill in.
    </Drop>
  )
}
