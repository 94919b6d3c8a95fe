import { z } from 'zod'
import { saveNotices, showNotices } from '@/usecases/tracking/noticeSettings'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/tracking/notices', z.object({}), (gharry) => showNotices(gharry))

export const PUT = changing(
  'PUT /api/tracking/notices',
  z.object({ version: z.int(), plan: z.unknown() }),
  (gharry, { version, plan }) => saveNotices(gharry, version, plan),
  4_000_000,
)
