/**
 * A browser that goes to a marketplace's page of consent, answers it, and is sent back: the address that it comes back
 * to, whose host is `home`. The demo authorises its marketplace so, and tests do.
 */
export async function consent(url: string, home: string, form: Readonly<Record<string, string>>): Promise<URL> {
  const cookies = new Map<string, string>()
  let next = new URL(url)
  let body: URLSearchParams | undefined
  for (let hop = 0; hop < 12; hop++) {
    if (next.host === home) return next
    const answer = await fetch(next, {
      redirect: 'manual',
      headers: { cookie: [...cookies].map(([name, value]) => `${name}=${value}`).join('; ') },
      ...(body ? { method: 'POST', body } : {}),
    })
    for (const cookie of answer.headers.getSetCookie()) {
      const [name = '', value = ''] = cookie.split(';')[0]!.split('=')
      cookies.set(name, value)
    }
    const location = answer.headers.get('location')
    body = undefined
    if (location) next = new URL(location, next)
    else if (answer.ok && next.pathname.startsWith('/consent/')) body = new URLSearchParams(form)
    else throw new Error(`The page of consent answers ${answer.status}: ${(await answer.text()).slice(0, 300)}`)
  }
  throw new Error('The page of consent sends from one page to the next.')
}
