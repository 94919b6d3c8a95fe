/** The cookie that a browser keeps while its person is at the other side; it goes with the way back alone. */
export function browserCookie() {
  const secure = (process.env.GHARRY_URL ?? '').startsWith('https:')
  return {
    name: secure ? '__Secure-gharry-authorise' : 'gharry-authorise',
    httpOnly: true,
    sameSite: 'lax',
    secure,
    path: '/api/intake/connections/callback',
    maxAge: 1800,
  } as const
}
