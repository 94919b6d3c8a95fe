import { z } from 'zod'
import { showRerouting } from '@/usecases/showRerouting'
import { reading } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showRerouting(gharry))
