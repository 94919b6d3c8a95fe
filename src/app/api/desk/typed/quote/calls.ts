import { quoteTyped } from '@/usecases/desk/typeOrder'
import { changing } from '@/app/answer'
import { typedOrder } from '../shape'

export const POST = changing('POST /api/desk/typed/quote', typedOrder, (gharry, order) => quoteTyped(gharry, order))
