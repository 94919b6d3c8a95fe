import { z } from 'zod'
import { makeFeed, showFeed } from '@/usecases/tracking/calendars'
import { changing, reading } from '@/app/answer'

export const GET = reading('GET /api/setup/calendar', z.object({}), (gharry) => showFeed(gharry))
export const POST = changing('POST /api/setup/calendar', z.object({}), (gharry) => makeFeed(gharry))
