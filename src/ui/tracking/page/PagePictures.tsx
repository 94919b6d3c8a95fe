'use client'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { type ReactNode, useState } from 'react'
import type { Faces, Language } from '@/core/telling'
import { call, sentenceOf } from '../../kit/api'
import { useRested } from '../../kit/useRested'

interface Props {
  readonly faces: Faces
  readonly channel: string
  readonly language: Language
  readonly children: ReactNode
}

/** The page as the draft makes it, at the width of a telephone and of a desk. */
export function PagePictures({ faces, channel, language, children }: Props) {
  const [parcels, setParcels] = useState(1)
  const asked = useRested(JSON.stringify({ draft: faces, channel, language, parcels }), 200)
  const { data, error } = useQuery({
    queryKey: ['page-preview', asked],
    queryFn: () =>
      call('POST /api/tracking/page/preview', {
        body: JSON.parse(asked!) as { draft: unknown; channel: string; language: string; parcels: number },
      }),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  })
  return (
    <div className="flex min-h-0 flex-col border-l border-hair bg-tint px-5 py-3" role="region" aria-label="The page">
      <p className="flex flex-wrap items-center gap-3 pb-2">
        {children}
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={parcels > 1}
            onChange={(event) => setParcels(event.target.checked ? 2 : 1)}
            className="size-4 accent-[var(--act)]"
          />
          with two parcels
        </label>
      </p>
      {error || data?.problem ? (
        <p role="alert" className="text-lost">
          {data?.problem || sentenceOf(error)}
        </p>
      ) : (
        <div className="flex min-h-0 flex-1 gap-4">
          <iframe
            title="On a telephone"
            sandbox=""
            srcDoc={data?.html ?? ''}
            className="h-full min-h-96 w-[320px] shrink-0 border border-hair bg-white"
          />
          <Scaled html={data?.html ?? ''} />
        </div>
      )}
    </div>
  )
}

/** A wide page, drawn smaller. */
function Scaled({ html }: { html: string }) {
  return (
    <div className="relative min-w-0 flex-1 overflow-hidden border border-hair bg-white">
      <iframe
        title="At a desk"
        sandbox=""
        srcDoc={html}
        className="absolute top-0 left-0 h-[200%] w-[200%] origin-top-left scale-50 border-0"
      />
    </div>
  )
}
