'use client'
import { useQuery } from '@tanstack/react-query'
import Link from 'next/link'
import type { ListName } from '@/usecases/setup/lists'
import { call } from '../kit/api'
import { count } from '../kit/format'

const most = 8

/** Where a thing of a list is used. */
export function UsesOf({ list, id }: { list: ListName; id: string }) {
  const { data } = useQuery({
    queryKey: ['uses', list, id],
    queryFn: () => call('GET /api/setup/uses', { query: { list, key: id } }),
    staleTime: 10_000,
  })
  if (!data) return <p className="text-soft">Looking …</p>
  const { rules, others, past } = data
  if (rules.length === 0 && others.length === 0 && past === 0) return <p className="text-soft">Nowhere yet.</p>
  return (
    <ul>
      {rules.slice(0, most).map((rule) => (
        <li key={rule}>
          Rule{' '}
          <Link
            className="inline-flex min-h-[24px] items-center text-act underline decoration-hair"
            href={`/rules?q=${encodeURIComponent(rule)}`}
          >
            {rule}
          </Link>
        </li>
      ))}
      {rules.length > most && <li className="text-soft">and {count(rules.length - most)} more rules</li>}
      {others.map((other) => (
        <li key={other}>{other}</li>
      ))}
      {past > 0 && (
        <li className="text-soft">
          {count(past)} {past === 1 ? 'label' : 'labels'} of the past
        </li>
      )}
    </ul>
  )
}
