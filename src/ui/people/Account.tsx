'use client'
import { useQuery } from '@tanstack/react-query'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { useChange } from '../kit/useChange'
import { When } from '../kit/When'
import { SetupSheet } from '../setup/SetupSheet'
import { browserOf } from './browserOf'
import { Passkeys } from './Passkeys'
import { PasswordForm } from './PasswordForm'
import { useSignOut } from './PersonMenu'
import { SecondFactor } from './SecondFactor'

/** The own account: what one signs in with, and where one is signed in. */
export function Account({ initial }: { initial: AnswerOf<'GET /api/people/me'> }) {
  const { data } = useQuery({
    queryKey: ['me'],
    queryFn: () => call('GET /api/people/me'),
    initialData: initial,
    refetchInterval: 30_000,
  })
  const change = useChange(['me'])
  const signOut = useSignOut()
  const end = (which: number | 'others'): Promise<boolean> =>
    change(
      () => call('DELETE /api/people/me/sign-ins', { body: { which } }),
      which === 'others' ? 'You are signed out everywhere else' : 'Ended',
    )
  return (
    <SetupSheet at="account" about={`${data.name}, ${data.roleName}, ${data.email}`} label="Your account">
      <div className="grid max-w-5xl gap-x-12 gap-y-6 min-[1000px]:grid-cols-2">
        <PasswordForm has={data.hasPassword} />
        <SecondFactor since={data.secondSince} left={data.recoveryLeft} />
        <Passkeys keys={data.passkeys} />
        <section aria-label="Where you are signed in" className="min-[1000px]:col-span-2">
          <h2 className="mb-1 text-lead">Where you are signed in</h2>
          <table className="w-full border-t border-hair bg-sheet">
            <thead>
              <tr className="border-b border-hair text-small text-soft">
                <th className="px-3 py-1.5 text-left">Browser</th>
                <th className="text-left">From</th>
                <th className="text-left">By</th>
                <th className="text-left">Since</th>
                <th className="text-left">Seen last</th>
                <th>
                  <span className="sr-only">End it</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {data.signIns.map((one) => (
                <tr key={one.id} className="border-b border-hair/70">
                  <td className="px-3 py-1.5">{browserOf(one.agent)}</td>
                  <td className="font-mono text-small">{one.address || '–'}</td>
                  <td>{one.how}</td>
                  <td>
                    <When at={one.madeAt} />
                  </td>
                  <td>{one.here ? 'here, now' : <When at={one.seenAt} />}</td>
                  <td className="py-1 pr-2 text-right">
                    {one.here ? (
                      <Button kind="quiet" onClick={signOut}>
                        Sign out
                      </Button>
                    ) : (
                      <Button kind="quiet" onClick={() => end(one.id)}>
                        End it
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {data.signIns.length > 1 && (
            <p className="mt-2">
              <Button onClick={() => end('others')}>Sign out everywhere else</Button>
            </p>
          )}
        </section>
      </div>
    </SetupSheet>
  )
}
