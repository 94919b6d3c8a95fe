import { z } from 'zod'
import { showLanes } from '@/usecases/tracking/showArrivals'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/tracking/arrivals/lanes', z.object({}), (gharry) => showLanes(gharry))
