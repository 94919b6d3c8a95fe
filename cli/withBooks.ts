import { type Application, openApplication } from '@/usecases/shared/application'

/** Work on the books of this data folder, which are closed again whatever becomes of it; gives its exit code. */
export async function withBooks(work: (gharry: Application) => Promise<number>): Promise<number> {
  const gharry = await openApplication({ ...process.env, GHARRY_LOG: 'silent' })
  try {
    return await work(gharry)
  } finally {
    await gharry.close()
  }
}
