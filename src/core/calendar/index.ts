export { type Day, dayOf, dayText, instantAt, localTime, type LocalTime, minuteOf, monthOf, weekday } from './day'
export { endOfDay, isDay, readBoundary, readMoment } from './read'
export { arrivalDay, shipDay } from './transit'
