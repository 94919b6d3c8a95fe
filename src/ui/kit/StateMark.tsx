import type { ReactNode } from 'react'

interface Look {
  readonly word: string
  readonly tone: string
  readonly mark: ReactNode
}

const ring = <circle cx="6" cy="6" r="4.6" fill="none" stroke="currentColor" strokeWidth="1.6" />
const filled = (share: number): ReactNode => (
  <>
    {ring}
    <rect
      x="2"
      y={10 - 8 * share}
      width="8"
      height={8 * share}
      fill="currentColor"
      clipPath="circle(4px at 6px 6px)"
      style={{ clipPath: 'circle(4px at 4px calc(100% - 4px))' }}
    />
  </>
)

/** Every state has its own mark and its word; colour only helps. A parcel's ring fills as it goes along. */
const looks: Readonly<Record<string, Look>> = {
  attention: {
    word: 'needs attention',
    tone: 'text-wait',
    mark: <path d="M6 1 11.4 10.6H.6Z M6 4.6v2.8 M6 8.6v.9" fill="none" stroke="currentColor" strokeWidth="1.4" />,
  },
  held: {
    word: 'held',
    tone: 'text-wait',
    mark: <path d="M3.6 1.5v9 M8.4 1.5v9" stroke="currentColor" strokeWidth="2.2" />,
  },
  ready: { word: 'ready', tone: 'text-act', mark: ring },
  combined: {
    word: 'goes with others',
    tone: 'text-soft',
    mark: <path d="M1.4 3.4h5v5h-5Z M5.6 1.4h5v5h-4.2" fill="none" stroke="currentColor" strokeWidth="1.5" />,
  },
  buying: {
    word: 'being bought',
    tone: 'text-act',
    mark: <path d="M6 1.4A4.6 4.6 0 0 1 10.6 6" fill="none" stroke="currentColor" strokeWidth="2" />,
  },
  labelled: { word: 'labelled', tone: 'text-done', mark: filled(0.35) },
  dispatched: { word: 'dispatched', tone: 'text-done', mark: filled(0.65) },
  delivered: { word: 'delivered', tone: 'text-done', mark: <circle cx="6" cy="6" r="5.2" fill="currentColor" /> },
  'fulfilled elsewhere': {
    word: 'fulfilled elsewhere',
    tone: 'text-soft',
    mark: <path d="M2 10 10 2 M4 2h6v6" fill="none" stroke="currentColor" strokeWidth="1.5" />,
  },
  cancelled: {
    word: 'cancelled',
    tone: 'text-soft',
    mark: <path d="M2 2l8 8M10 2l-8 8" stroke="currentColor" strokeWidth="1.6" />,
  },
  announced: { word: 'announced', tone: 'text-soft', mark: ring },
  collected: { word: 'collected', tone: 'text-act', mark: filled(0.3) },
  'in transit': { word: 'on its way', tone: 'text-act', mark: filled(0.55) },
  'out for delivery': { word: 'with the driver', tone: 'text-done', mark: filled(0.8) },
  'held at customs': {
    word: 'held at customs',
    tone: 'text-wait',
    mark: <path d="M3.6 1.5v9 M8.4 1.5v9" stroke="currentColor" strokeWidth="2.2" />,
  },
  'waiting to be fetched': {
    word: 'to be fetched',
    tone: 'text-wait',
    mark: <path d="M1.4 3.6h9.2v7H1.4Z M4 3.6V1.4h4v2.2" fill="none" stroke="currentColor" strokeWidth="1.5" />,
  },
  'delivery failed': {
    word: 'not delivered',
    tone: 'text-lost',
    mark: <path d="M6 1 11.4 10.6H.6Z M6 4.6v2.8 M6 8.6v.9" fill="none" stroke="currentColor" strokeWidth="1.4" />,
  },
  returned: {
    word: 'coming back',
    tone: 'text-lost',
    mark: <path d="M10.6 6H2 M5.4 2.4 1.8 6l3.6 3.6" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  },
  lost: { word: 'lost', tone: 'text-lost', mark: <path d="M6 .8 11.2 6 6 11.2 .8 6Z" fill="currentColor" /> },
  queued: { word: 'queued', tone: 'text-act', mark: ring },
  waiting: { word: 'waiting', tone: 'text-act', mark: ring },
  running: {
    word: 'running',
    tone: 'text-act',
    mark: <path d="M6 1.4A4.6 4.6 0 0 1 10.6 6" fill="none" stroke="currentColor" strokeWidth="2" />,
  },
  sent: { word: 'sent', tone: 'text-done', mark: <circle cx="6" cy="6" r="5.2" fill="currentColor" /> },
  done: { word: 'done', tone: 'text-done', mark: <circle cx="6" cy="6" r="5.2" fill="currentColor" /> },
  bought: { word: 'bought', tone: 'text-done', mark: <circle cx="6" cy="6" r="5.2" fill="currentColor" /> },
  failed: { word: 'failed', tone: 'text-lost', mark: <path d="M6 .8 11.2 6 6 11.2 .8 6Z" fill="currentColor" /> },
  voiding: {
    word: 'being voided',
    tone: 'text-lost',
    mark: <path d="M1.5 6h9" stroke="currentColor" strokeWidth="2" />,
  },
  voided: {
    word: 'voided',
    tone: 'text-soft',
    mark: <path d="M2 2l8 8M10 2l-8 8" stroke="currentColor" strokeWidth="1.6" />,
  },
  dropped: { word: 'dropped', tone: 'text-soft', mark: <path d="M1.5 6h9" stroke="currentColor" strokeWidth="2" /> },
}

export const stateWord = (state: string): string => looks[state]?.word ?? state

export function StateMark({ state, bare = false }: { state: string; bare?: boolean }) {
  const look = looks[state] ?? { word: state, tone: 'text-soft', mark: ring }
  return (
    <span className={`inline-flex items-center gap-1.5 whitespace-nowrap ${look.tone}`}>
      <svg
        viewBox="0 0 12 12"
        className="size-3 shrink-0"
        aria-hidden={!bare}
        role={bare ? 'img' : undefined}
        aria-label={bare ? look.word : undefined}
      >
        {look.mark}
      </svg>
      {!bare && <span>{look.word}</span>}
    </span>
  )
}
