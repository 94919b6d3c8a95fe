import { z } from 'zod'
import { showIntake } from '@/usecases/showLine'
import { reading } from '../../answer'

export const GET = reading(z.object({}), (gharry) => showIntake(gharry))
