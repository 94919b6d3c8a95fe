import { printLabel } from '@/usecases/printBatch'
import { printing } from '../../../../printAnswer'

export const POST = printing(printLabel)
