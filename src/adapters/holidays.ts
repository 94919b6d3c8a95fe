import Holidays from 'date-holidays'

/**
 * Public holidays of a country in some years, as days (package `date-holidays`): those of the whole country. Empty for
 * a country that the package does not know.
 */
export function publicHolidays(country: string, years: readonly number[]): string[] {
  const calendar = new Holidays()
  if (!(country in calendar.getCountries())) return []
  calendar.init(country)
  const days = years.flatMap((year) =>
    calendar
      .getHolidays(year)
      .filter((holiday) => holiday.type === 'public')
      .flatMap((holiday) => daysOf(holiday.date, holiday.start, holiday.end)),
  )
  return [...new Set(days)].sort()
}

/** The local days that a holiday covers; `date` begins with the first, the instants say how many there are. */
function daysOf(date: string, start: Date, end: Date): string[] {
  const first = Date.parse(`${date.slice(0, 10)}T00:00:00Z`)
  const count = Math.max(1, Math.round((end.getTime() - start.getTime()) / 86_400_000))
  return Array.from({ length: count }, (_, i) => new Date(first + i * 86_400_000).toISOString().slice(0, 10))
}
