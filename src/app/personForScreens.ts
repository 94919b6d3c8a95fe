import { may } from '@/core/people'
import type { PersonOnScreen } from '@/ui/kit/person'
import type { Endpoint } from '@/usecases/endpoints'
import { needs } from '@/usecases/people/needs'
import type { Person } from '@/usecases/people/signedIn'

/** What screens know of whoever has signed in: name, role, and what the role may not call. */
export const personForScreens = ({ name, email, role }: Person): PersonOnScreen => ({
  ...{ name, email, role },
  barred: (Object.keys(needs) as Endpoint[])
    .filter((endpoint) => {
      const need = needs[endpoint]
      return need !== 'anybody' && !may(role, need)
    })
    .map((endpoint) => [endpoint, needs[endpoint]] as const),
})
