import { z } from 'zod'
import { showArrivals } from '@/usecases/tracking/showArrivals'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/tracking/arrivals', z.object({}), (gharry) => showArrivals(gharry))
