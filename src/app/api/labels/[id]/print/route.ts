import { printLabel } from '@/usecases/printBatch'
import { printing } from '../../../../printAnswer'

export const GET = printing('label', printLabel)
