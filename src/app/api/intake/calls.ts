import { z } from 'zod'
import { showIntake } from '@/usecases/intake/showIntake'
import { reading } from '@/app/answer'
import { skip } from '@/app/skip'

export const GET = reading('GET /api/intake', z.object({ skip }), (gharry, query) => showIntake(gharry, query.skip))
