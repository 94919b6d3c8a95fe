import { z } from 'zod'
import { showHealth } from '@/usecases/health/showHealth'
import { reading } from '@/app/answer'

export const GET = reading('GET /api/setup/health', z.object({}), (gharry) => showHealth(gharry))
