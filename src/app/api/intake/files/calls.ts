import { largestFile, receiveFile } from '@/usecases/intake/importFile'
import { problem } from '@/app/answer'
import { chunksOf } from '@/app/body'
import { fileAnswer, fileRoute } from '@/app/fileAnswer'
import { theApplication } from '@/app/application'

/** Takes a file as the bare body and answers what its columns seem to mean. */
export const POST = fileRoute(async (request) => {
  if (!request.body) return problem(400, 'empty-file', 'The file is empty.')
  return fileAnswer(await receiveFile(await theApplication(), chunksOf(request, largestFile)))
})
