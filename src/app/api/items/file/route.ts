import { exportItems, previewItems, takeItems } from '@/usecases/items'
import { downloading, receiving } from '../../../fileAnswer'

export const GET = downloading('items', exportItems)
export const POST = receiving(previewItems, takeItems)
