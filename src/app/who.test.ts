import { providerCookie, signInCookie } from './who'

const before = process.env.GHARRY_URL
afterEach(() => {
  if (before === undefined) delete process.env.GHARRY_URL
  else process.env.GHARRY_URL = before
})

test('behind TLS a cookie is for this host alone, and never sent without TLS (`__Host-`)', () => {
  process.env.GHARRY_URL = 'https://gharry.example'
  for (const cookie of [signInCookie('secret'), providerCookie('kept')]) {
    expect(cookie).toMatch(/^__Host-gharry/)
    expect(cookie.split('; ').slice(1).sort()).toEqual([
      'HttpOnly',
      expect.stringMatching(/^Max-Age=\d+$/),
      'Path=/',
      'SameSite=Lax',
      'Secure',
    ])
    expect(cookie).not.toMatch(/domain/i)
  }
})

test('without TLS it has no such name, as no browser would take it; signing out forgets it', () => {
  process.env.GHARRY_URL = 'http://127.0.0.1:4600'
  expect(signInCookie('secret')).toMatch(/^gharry=secret; Path=\/; HttpOnly; SameSite=Lax; Max-Age=604800$/)
  expect(signInCookie(null)).toContain('gharry=; Path=/; HttpOnly; SameSite=Lax; Max-Age=0')
})
