import { printContainers } from '@/usecases/dispatch/door/manifestPapers'
import { printing } from '@/app/printAnswer'

export const POST = printing((gharry, id) => printContainers(gharry, id))
