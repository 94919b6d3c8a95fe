import {
  arrivalsByService,
  newestWorld,
  parcelsByStatus,
  recentWork,
  workByState,
  type NoticeRow,
  type PostRow,
} from '@/data'
import type { Application } from '../shared/application'

export interface TrackingView {
  readonly posts: readonly (PostRow & { number: string })[]
  readonly notices: readonly (NoticeRow & { number: string })[]
  readonly postStates: Readonly<Record<string, number>>
  readonly noticeStates: Readonly<Record<string, number>>
  readonly parcels: readonly { readonly status: string; readonly count: number }[]
  /** Shipments bought in the last 30 days, by service, the most used first. */
  readonly services: readonly (Awaited<ReturnType<typeof arrivalsByService>>[number] & { readonly name: string })[]
}

const monthMs = 30 * 86_400_000

export async function showTracking(gharry: Application, state: string | null): Promise<TrackingView> {
  const { db } = gharry
  const now = gharry.now()
  const named = new Map((await newestWorld(db))?.world.services.map(({ id, name }) => [id, name]))
  const since = new Date(now.getTime() - monthMs).toISOString()
  const arrivals = await arrivalsByService(db, since, now.toISOString().slice(0, 10))
  return {
    posts: await recentWork<PostRow>(db, 'posts', state, 300),
    notices: await recentWork<NoticeRow>(db, 'notices', state === 'queued' ? 'waiting' : state, 300),
    postStates: await workByState(db, 'posts'),
    noticeStates: await workByState(db, 'notices'),
    parcels: await parcelsByStatus(db),
    services: arrivals
      .sort((a, b) => b.shipments - a.shipments)
      .map((row) => ({ ...row, name: named.get(row.service) ?? row.service })),
  }
}
