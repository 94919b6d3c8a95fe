import { printBatch } from '@/usecases/printBatch'
import { printing } from '../../../../../printAnswer'

export const GET = printing('batch', printBatch)
