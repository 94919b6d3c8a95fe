import { changeList } from '@/usecases/setup/changeList'
import { changing } from '@/app/answer'
import { listChange } from '../listChange'

export const PUT = changing('PUT /api/setup/lists', listChange, changeList)
