import { locale } from './locale'

// A Monday.
const monday = Date.UTC(2026, 10, 2)

interface WeekInfo {
  readonly firstDay: number
}
type LocaleWithWeeks = Intl.Locale & { readonly getWeekInfo?: () => WeekInfo; readonly weekInfo?: WeekInfo }

/** The first day of the reader's week, as an ISO weekday (1 is Monday). */
function firstDay(): number {
  const of = new Intl.Locale(locale()) as LocaleWithWeeks
  return (of.getWeekInfo?.() ?? of.weekInfo)?.firstDay ?? 1
}

/** The ISO weekdays with their short names, from the first day of the reader's week on. */
export function weekdayNames(): (readonly [day: number, name: string])[] {
  const names = new Intl.DateTimeFormat('en-GB', { weekday: 'short', timeZone: 'UTC' })
  return Array.from({ length: 7 }, (_, i) => {
    const day = ((firstDay() - 1 + i) % 7) + 1
    return [day, names.format(monday + (day - 1) * 86_400_000)] as const
  })
}
