import { typeOrder } from '@/usecases/desk/typeOrder'
import { changing } from '@/app/answer'
import { typedOrder } from './shape'

export const POST = changing('POST /api/desk/typed', typedOrder, (gharry, order) => typeOrder(gharry, order))
