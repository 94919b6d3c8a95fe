import { maxLogoBytes, takeLogo } from '@/usecases/tracking/faces'
import { theApplication } from '@/app/application'
import { bytesOf } from '@/app/body'
import { fileAnswer, fileRoute } from '@/app/fileAnswer'

export const PUT = fileRoute(async (request) =>
  fileAnswer(await takeLogo(await theApplication(), await bytesOf(request, maxLogoBytes))),
)
