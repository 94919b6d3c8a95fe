import { exportDesk } from '@/usecases/desk/exportDesk'
import { BadInput } from '@/app/body'
import { deskQuery, listIn } from '@/app/deskQuery'
import { downloading } from '@/app/fileAnswer'

export const GET = downloading('orders', (gharry, format, query) => {
  const parsed = deskQuery.safeParse(Object.fromEntries(query))
  if (!parsed.success) throw new BadInput(400, 'bad-query', 'These filters cannot be read.')
  const { filter, sorts } = parsed.data
  return exportDesk(gharry, format, { filter, sorts, columns: listIn.parse(query.get('columns') ?? undefined) ?? [] })
})
