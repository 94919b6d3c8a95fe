'use client'
import dynamic from 'next/dynamic'

/** How a message reads: something was done, or something went wrong. */
interface More {
  readonly tone?: 'plain' | 'bad'
  readonly undo?: () => void
}
type Say = (text: string, more?: More) => void

// Nobody needs it before the first message: it is fetched when the page is there.
const Messages = dynamic(() => import('./Messages').then((module) => module.Messages), { ssr: false })

/**
 * Short messages at the foot of the page. They wait while the mouse or the keyboard (Alt T) is on them, and can be
 * closed; what went wrong and what can be undone stays longer.
 */
const say: Say = (text, more) => void import('./Messages').then(({ show }) => show(text, more ?? {}))

export const useSay = (): Say => say

export const MessageRegion = Messages
