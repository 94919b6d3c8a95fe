import { NextResponse } from 'next/server'
import { maxPictureBytes, showPicture, takePicture } from '@/usecases/setup/pictures'
import { problem } from '@/app/answer'
import { theApplication } from '@/app/application'
import { bytesOf } from '@/app/body'
import { fileAnswer, fileRoute } from '@/app/fileAnswer'

const presetIn = (url: URL): string => url.searchParams.get('preset') ?? ''

export const GET = fileRoute(async (request) => {
  const picture = await showPicture(await theApplication(), presetIn(request.nextUrl))
  if (!picture) return problem(404, 'not-found', 'There is no photograph of it.')
  return new NextResponse(new Uint8Array(picture.content), {
    headers: { 'content-type': picture.type, 'cache-control': 'no-cache' },
  })
})

export const PUT = fileRoute(async (request) =>
  fileAnswer(
    await takePicture(await theApplication(), presetIn(request.nextUrl), await bytesOf(request, maxPictureBytes)),
  ),
)
