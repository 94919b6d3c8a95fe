'use client'
import { startRegistration } from '@simplewebauthn/browser'
import type { AnswerOf } from '@/usecases/endpoints'
import { call } from '../kit/api'
import { Button } from '../kit/Button'
import { useChange } from '../kit/useChange'
import { When } from '../kit/When'
import { browserOf } from './browserOf'

/** Passkeys: a key in a device, opened by a finger or its own code. Nothing to remember, nothing to give away. */
export function Passkeys({ keys }: { keys: AnswerOf<'GET /api/people/me'>['passkeys'] }) {
  const change = useChange(['me'])
  const add = (): Promise<boolean> =>
    change(async () => {
      const { key, options } = await call('POST /api/people/me/passkeys', { body: {} })
      const response = await startRegistration({ optionsJSON: options }).catch(() => {
        throw new Error('No passkey was made. Try again when you have your device at hand.')
      })
      return call('PUT /api/people/me/passkeys', { body: { key, name: browserOf(navigator.userAgent), response } })
    }, 'The passkey is kept: sign in with it from now on')
  return (
    <section aria-label="Passkeys" className="min-[1000px]:col-span-2">
      <h2 className="mb-1 text-lead">Passkeys</h2>
      {keys.length === 0 ? (
        <p className="text-soft">
          None yet. A passkey is password and second factor in one, and cannot be given to a wrong page.
        </p>
      ) : (
        <ul className="border-t border-hair bg-sheet">
          {keys.map((key) => (
            <li key={key.id} className="flex items-center gap-4 border-b border-hair/70 px-3 py-1">
              <span className="font-semibold">{key.name}</span>
              <span className="text-soft">
                made <When at={key.madeAt} />, used <When at={key.usedAt} />
              </span>
              <Button
                kind="quiet"
                className="ml-auto"
                onClick={() =>
                  change(() => call('DELETE /api/people/me/passkeys', { body: { id: key.id } }), 'Forgotten')
                }
              >
                Forget it
              </Button>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-2">
        <Button onClick={add}>Add a passkey …</Button>
      </p>
    </section>
  )
}
