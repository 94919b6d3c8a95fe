import { isAway, isBooksFault, isFull } from './postgresServer'

test('a full disk is told from a database that is away, and both from what is wrong with a request', () => {
  for (const code of ['53100', 'SQLITE_FULL', 'ENOSPC'])
    expect([code, isFull({ code }), isAway({ code })]).toEqual([code, true, false])
  for (const code of ['57P01', '08006', 'ECONNREFUSED'])
    expect([code, isFull({ code }), isAway({ code }), isBooksFault({ code })]).toEqual([code, false, true, true])
  for (const error of [undefined, new Error('x'), { code: 'EPERM' }])
    expect([isFull(error), isAway(error)]).toEqual([false, false])
})
