import { homeOf, ownAddress } from './homeOf'

test('after signing in one goes on to an address of Gharry’s own, and to no other', () => {
  for (const own of ['/', '/desk?state=ready&q=a%20b', '/setup/people', '/orders#x'])
    expect(ownAddress(own, '/x')).toBe(own)
  for (const other of [
    undefined,
    '',
    'desk',
    '//evil.example',
    '/\\evil.example',
    '/\\/evil.example',
    '\\\\evil.example',
    'https://evil.example',
    'javascript:alert(1)',
    '/a\nb',
    '/api/people/sign-out',
    '/sign-in?to=/sign-in',
    '/welcome/abc',
    `/${'a'.repeat(3000)}`,
  ])
    expect([other, ownAddress(other, '/x')]).toEqual([other, '/x'])
})

test('each role begins where its work is', () => {
  expect([homeOf('packer'), homeOf('accountant'), homeOf('partner'), homeOf('owner')]).toEqual([
    '/bench',
    '/ledger',
    '/orders',
    '/desk',
  ])
})
