'use client'
import { useRef, useState } from 'react'
import { money } from '@/core/units'
import type { ReturnToCheck } from '@/usecases/tracking/returns/checkReturn'
import { FloorBack } from '../../dispatch/FloorBack'
import { Band, type Said } from '../../dispatch/Band'
import { ScanField } from '../../dispatch/ScanField'
import { sound } from '../../dispatch/sounds'
import { call, sentenceOf } from '../../kit/api'
import { moneyText } from '../../kit/format'
import { CheckReturn } from './CheckReturn'
import { reasonWords } from './returnWords'

const begin: Said = { tone: 'idle', words: 'Scan what came back', more: 'its label, or the number of its order' }

/** Where parcels that come back are opened, on the whole screen: scanned, looked at, kept or not, and paid back. */
export function ReturnsBench() {
  const field = useRef<HTMLInputElement>(null)
  const [said, setSaid] = useState<Said>(begin)
  const [found, setFound] = useState<readonly ReturnToCheck[]>([])
  const [open, setOpen] = useState<ReturnToCheck | null>(null)
  const say = (next: Said): void => {
    setSaid(next)
    sound(next.tone)
  }
  const look = (one: ReturnToCheck): void => {
    setOpen(one)
    setFound([])
    say({
      tone: 'right',
      words: `${one.number}: ${one.reason ? (reasonWords[one.reason] ?? one.reason) : 'sent with the label from the box'}`,
      more: `From ${one.buyer}. Say for each piece how it came.`,
    })
  }
  const scan = async (code: string): Promise<void> => {
    setOpen(null)
    try {
      const answer = await call('POST /api/tracking/returns/arrivals', { body: { code } })
      const [only] = answer.found
      if (only && answer.found.length === 1) return look(only)
      setFound(answer.found)
      say({ tone: 'ask', words: 'Which of them?', more: 'This order has several returns: choose the one that came.' })
    } catch (error) {
      setFound([])
      say({ tone: 'wrong', words: 'Not awaited', more: sentenceOf(error) })
    }
  }
  return (
    <div className="flex h-dvh flex-col bg-paper">
      <header className="flex items-center gap-3 border-b border-hair bg-sheet px-4 py-2 max-[599px]:px-2">
        <FloorBack to="/tracking/returns" name="Tracking" needs="orders.see" />
        <h1 className="text-lead font-bold">Returns</h1>
      </header>
      <main id="main" className="flex min-h-0 flex-1 flex-col">
        <Band said={said} />
        <div className="min-h-0 flex-1 overflow-auto p-4" tabIndex={0} role="region" aria-label="What came back">
          {found.length > 1 && (
            <ul aria-label="Found" className="grid gap-1">
              {found.map((one) => (
                <li key={one.id}>
                  <button
                    type="button"
                    className="flex min-h-11 w-full items-center gap-4 border-b border-hair bg-sheet px-3 text-left text-lead hover:bg-act-soft"
                    onClick={() => look(one)}
                  >
                    <span className="w-56 font-mono">{one.trackingNumber || 'no label of ours'}</span>
                    <span className="min-w-0 flex-1 truncate">
                      {one.items.map(({ title, sku, quantity }) => `${quantity} × ${title || sku}`).join(', ')}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          )}
          {open && (
            <CheckReturn
              key={open.id}
              row={open}
              onBack={() => {
                setOpen(null)
                say(begin)
              }}
              onDone={({ amount, currency, paidByChannel }) => {
                const paid = moneyText(money(amount, currency))
                setOpen(null)
                say({
                  tone: 'done',
                  words: amount === 0 ? `${open.number}: nothing is paid back` : `${open.number}: ${paid} go back`,
                  more:
                    amount === 0 || paidByChannel
                      ? 'Channel and buyer are told.'
                      : 'Its channel pays nothing back: pay it by hand, and say so under Tracking, Returns.',
                })
              }}
            />
          )}
        </div>
        <ScanField
          ref={field}
          held={open !== null}
          words="Scan a return label, or type an order’s number"
          onScan={(text) => void scan(text)}
        />
      </main>
    </div>
  )
}
