/* Puts the clock of a test so many days on as GHARRY_TEST_DAYS says; see scripts/test-other-day.mjs. */
const ahead = Number(process.env.GHARRY_TEST_DAYS) * 86_400_000
const trueNow = Date.now.bind(Date)
const now = (): number => trueNow() + ahead

Date.now = now
globalThis.Date = new Proxy(Date, {
  construct: (real, given: unknown[]) => Reflect.construct(real, given.length > 0 ? given : [now()]) as Date,
})
