import { may, passwordFault, permissions, roleIds, roles, whoMay } from './index'

test('each permission is somebody’s; the owner has all of them, a reader changes nothing, a partner sees orders alone', () => {
  for (const permission of Object.keys(permissions) as (keyof typeof permissions)[]) {
    expect(may('owner', permission)).toBe(true)
    if (/change|run|decide|type|write|allow|draft|publish|buy|void|plan|settle|spend|manage/.test(permission))
      expect([permission, may('reader', permission), may('partner', permission)]).toEqual([permission, false, false])
  }
  expect(may('lead', 'people.manage')).toBe(false)
  expect(may('dispatcher', 'rules.publish')).toBe(false)
  expect([may('packer', 'orders.see'), may('partner', 'orders.see')]).toEqual([false, false])
  expect(may('nobody' as never, 'orders.see')).toBe(false)
  expect(roleIds[0]).toBe('owner')
  for (const role of roleIds) expect(roles[role].about).toMatch(/\.$/)
})

test('who may is said in words', () => {
  expect(whoMay('rules.publish')).toBe('the owner and operations leads')
  expect(whoMay('people.manage')).toBe('the owner')
})

test('a password is long, in no list, and not the own name', () => {
  const known = new Set(['correcthorsebatterystaple', 'trustno1trustno1'])
  const fault = (password: string, ...own: string[]): string | null => passwordFault(password, known, own)
  expect(fault('short')).toContain('at least 15')
  expect(fault('x'.repeat(201))).toContain('at most 200')
  expect(fault('aaaaaaaaaaaaaaaaaaaa')).toContain('same few')
  expect(fault('Correct-Horse-Battery-Staple')).toContain('lists')
  expect(fault('TRUSTNO1trustno1')).toContain('lists')
  expect(fault('lieve.maes@shop1', 'lieve.maes', 'Lieve Maes')).toContain('first')
  expect(fault('moss under slow lamps', 'Lieve Maes')).toBeNull()
  // What counts is characters, not how they are stored.
  expect(fault('苔の庭に水がしずかに流れて魚が泳ぐ')).toBeNull()
})
