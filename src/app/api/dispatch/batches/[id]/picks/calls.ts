import { printPickSheet } from '@/usecases/dispatch/pickSheet'
import { printing } from '@/app/printAnswer'

export const POST = printing((gharry, id) => printPickSheet(gharry, id))
