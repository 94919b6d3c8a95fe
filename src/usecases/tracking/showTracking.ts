import { recentWork, workByState, type HandOverRow, type NoticeRow, type PostRow } from '@/data'
import type { Application } from '../shared/application'
import { currentWorld } from '../shared/changeWorld'

export interface TrackingView {
  readonly posts: readonly (PostRow & { number: string })[]
  readonly notices: readonly (NoticeRow & { number: string })[]
  readonly postStates: Readonly<Record<string, number>>
  readonly noticeStates: Readonly<Record<string, number>>
  readonly handOvers: readonly (Omit<HandOverRow, 'token'> & { number: string; to: string })[]
  readonly handOverStates: Readonly<Record<string, number>>
}

export async function showTracking(gharry: Application, state: string | null): Promise<TrackingView> {
  const { db } = gharry
  const { world } = await currentWorld(db)
  return {
    posts: await recentWork<PostRow>(db, 'posts', state, 300),
    notices: await recentWork<NoticeRow>(db, 'notices', state === 'queued' ? 'waiting' : state, 300),
    handOvers: (await recentWork<HandOverRow>(db, 'handovers', state, 300)).map(({ token: _token, ...row }) => ({
      ...row,
      to: world.partners?.find(({ id }) => id === row.partner)?.name ?? row.partner,
    })),
    handOverStates: await workByState(db, 'handovers'),
    postStates: await workByState(db, 'posts'),
    noticeStates: await workByState(db, 'notices'),
  }
}
