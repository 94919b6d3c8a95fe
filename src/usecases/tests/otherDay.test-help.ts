/* Puts the clock of a test so many days on as GHARRY_TEST_DAYS says; see scripts/test-other-day.mjs. */
const Real = Date
const ahead = Number(process.env.GHARRY_TEST_DAYS) * 86_400_000
const now = (): number => Real.now() + ahead

globalThis.Date = new Proxy(Real, {
  construct: (_, given: unknown[]) => Reflect.construct(Real, given.length > 0 ? given : [now()]) as Date,
  get: (_, name) => (name === 'now' ? now : (Reflect.get(Real, name) as unknown)),
})
