import { orderPattern } from '@/usecases/intake/orderPattern'
import { downloading } from '@/app/fileAnswer'

export const GET = downloading('orders', orderPattern)
