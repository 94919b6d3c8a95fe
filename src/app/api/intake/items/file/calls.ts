import { exportItems, previewItems, takeItems } from '@/usecases/intake/items'
import { downloading, receiving } from '@/app/fileAnswer'

export const GET = downloading('items', exportItems)
const files = receiving(['POST /api/intake/items/file', 'PUT /api/intake/items/file'], previewItems, takeItems)
export const { POST, PUT } = files
