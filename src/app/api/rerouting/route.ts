import { z } from 'zod'
import { showRerouting } from '@/usecases/showRerouting'
import { reading } from '../../answer'

export const GET = reading(z.object({}), async (gharry) => ({ rerouting: await showRerouting(gharry) }))
