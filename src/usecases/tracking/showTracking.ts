import { parcelsByStatus, recentWork, workByState, type NoticeRow, type PostRow } from '@/data'
import type { Application } from '../shared/application'

export interface TrackingView {
  readonly posts: readonly (PostRow & { number: string })[]
  readonly notices: readonly (NoticeRow & { number: string })[]
  readonly postStates: Readonly<Record<string, number>>
  readonly noticeStates: Readonly<Record<string, number>>
  readonly parcels: readonly { readonly status: string; readonly count: number }[]
}

export async function showTracking(gharry: Application, state: string | null): Promise<TrackingView> {
  const { db } = gharry
  return {
    posts: await recentWork<PostRow>(db, 'posts', state, 300),
    notices: await recentWork<NoticeRow>(db, 'notices', state === 'queued' ? 'waiting' : state, 300),
    postStates: await workByState(db, 'posts'),
    noticeStates: await workByState(db, 'notices'),
    parcels: await parcelsByStatus(db),
  }
}
