import { maxTableBytes } from '@/adapters'
import { readZoneFile } from '@/usecases/setup/zoneFile'
import { bytesOf } from '@/app/body'
import { fileAnswer, fileRoute } from '@/app/fileAnswer'

export const POST = fileRoute(async (request) => fileAnswer(await readZoneFile(await bytesOf(request, maxTableBytes))))
