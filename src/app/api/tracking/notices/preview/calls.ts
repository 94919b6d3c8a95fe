import { z } from 'zod'
import { languages, mediums, noticeSteps } from '@/core/telling'
import { previewNotice } from '@/usecases/tracking/noticeSettings'
import { changing } from '@/app/answer'

export const POST = changing(
  'POST /api/tracking/notices/preview',
  z.object({
    plan: z.unknown(),
    step: z.enum(noticeSteps),
    medium: z.enum(mediums),
    language: z.enum(languages),
    number: z.string().max(60),
  }),
  (gharry, given) => previewNotice(gharry, given),
  4_000_000,
)
