const DAY_MS = 86_400_000

const toDate = (day: string) => new Date(`${day}T00:00:00Z`)
const toText = (date: Date) => date.toISOString().slice(0, 10)

/** A day some days later. */
export const plusDays = (day: string, days: number): string => toText(new Date(+toDate(day) + days * DAY_MS))

function plusMonths(day: string, months: number): string {
  const date = toDate(day)
  return toText(new Date(Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + months, 1)))
}

/** How many days a period has, both ends included. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((+toDate(to) - +toDate(from)) / DAY_MS) + 1

/** The period before (-1) or after (+1) one: whole months step by months, anything else by its own length. */
export function stepPeriod(from: string, to: string, step: number): { from: string; to: string } {
  const next = plusDays(to, 1)
  if (from.endsWith('-01') && next.endsWith('-01')) {
    const months =
      (toDate(next).getUTCFullYear() - toDate(from).getUTCFullYear()) * 12 +
      toDate(next).getUTCMonth() -
      toDate(from).getUTCMonth()
    return { from: plusMonths(from, step * months), to: plusDays(plusMonths(next, step * months), -1) }
  }
  const days = daysBetween(from, to)
  return { from: plusDays(from, step * days), to: plusDays(to, step * days) }
}

/** The month that a day is in. */
export function monthOf(day: string): { from: string; to: string } {
  const from = `${day.slice(0, 8)}01`
  return { from, to: plusDays(plusMonths(from, 1), -1) }
}

/** Today in a time zone. */
export const today = (zone: string): string =>
  new Intl.DateTimeFormat('en-CA', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
  }).format(new Date())

/** A range that people ask for often. */
export interface Range {
  name: string
  from: string
  to: string
  /** All there is: nothing needs to be said. */
  all?: boolean
}

/** Usual ranges up to the last day of the data, all of it first. */
export function rangesUpTo(first: string, last: string): Range[] {
  if (!first) return []
  const month = `${last.slice(0, 8)}01`
  const before = plusMonths(month, -1)
  return [
    { name: 'all days', from: first, to: last, all: true },
    { name: 'last 7 days', from: plusDays(last, -6), to: last },
    { name: 'last 28 days', from: plusDays(last, -27), to: last },
    { name: 'last 91 days', from: plusDays(last, -90), to: last },
    { name: 'this month', from: month, to: plusDays(plusMonths(month, 1), -1) },
    { name: 'month before', from: before, to: plusDays(month, -1) },
    { name: 'this year', from: `${last.slice(0, 4)}-01-01`, to: `${last.slice(0, 4)}-12-31` },
  ]
}

/** First and last day of a week by its name, 2026-W07 (ISO 8601), or of a month, 2026-02; null for anything else. */
export function daysOf(period: string): { from: string; to: string } | null {
  const week = /^(\d{4})-W(\d{2})$/.exec(period)
  if (week) {
    // The 4th of January is in the first week; weeks begin on Monday.
    const fourth = toDate(`${week[1]}-01-04`)
    const monday = plusDays(toText(fourth), -((fourth.getUTCDay() + 6) % 7) + 7 * (Number(week[2]) - 1))
    return { from: monday, to: plusDays(monday, 6) }
  }
  if (/^\d{4}-\d{2}$/.test(period)) {
    return monthOf(`${period}-01`)
  }
  return null
}
