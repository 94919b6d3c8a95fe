import { printLabel } from '@/usecases/dispatch/printBatch'
import { printing } from '@/app/printAnswer'

export const POST = printing(printLabel)
