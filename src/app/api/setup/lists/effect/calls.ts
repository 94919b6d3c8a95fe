import { previewList } from '@/usecases/setup/changeList'
import { changing } from '@/app/answer'
import { listChange } from '../../listChange'

export const POST = changing('POST /api/setup/lists/effect', listChange, previewList)
