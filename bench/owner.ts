import { addPerson, personBy } from '@/data'
import { beginSignIn } from '@/usecases/people/signedIn'
import { type Application, openApplication } from '@/usecases/shared/application'

/** Makes an owner in a data folder and signs them in; gives what a browser keeps of it. */
export async function cookieOfOwner(folder: string): Promise<string> {
  const gharry = await openApplication({ GHARRY_DATA: folder, GHARRY_LOG: 'silent' })
  try {
    return await signedInOwner(gharry)
  } finally {
    await gharry.close()
  }
}

/** The same, where the books are open. */
export async function signedInOwner(gharry: Application): Promise<string> {
  const at = gharry.now().toISOString()
  const id = await addPerson(gharry.db, {
    name: 'Bench',
    email: 'bench@gharry.example',
    role: 'owner',
    location: null,
    madeAt: at,
  })
  const person = (await personBy(gharry.db, { id: id! }))!
  return beginSignIn(gharry, person, true, 'bench', { address: '', agent: 'bench' })
}
