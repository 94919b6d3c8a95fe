import { z } from 'zod'
import { showIntake } from '@/usecases/intake/showIntake'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/intake', z.object({}), (gharry) => showIntake(gharry))
