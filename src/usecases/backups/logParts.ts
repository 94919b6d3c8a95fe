/** A part of what was written after a copy: its number, and the moment until which it tells. */
export interface LogPart {
  readonly part: string
  readonly number: number
  readonly moment: number
}

const logPart = /^log-(\d{7})-(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)(\d{3})Z\.sealed$/

/** What a part is called. */
export const logPartName = (number: number, until: Date): string =>
  `log-${String(number).padStart(7, '0')}-${until.toISOString().replace(/[-:.]/g, '')}.sealed`

/** The parts of the log among some names, by their numbers. */
export const logPartsOf = (names: readonly string[]): LogPart[] =>
  names
    .flatMap((part) => {
      const [, number, year, month, day, hour, minute, second, ms] = logPart.exec(part) ?? []
      if (number === undefined) return []
      const moment = Date.parse(`${year}-${month}-${day}T${hour}:${minute}:${second}.${ms}Z`)
      return [{ part, number: Number(number), moment }]
    })
    .sort((a, b) => a.number - b.number)
