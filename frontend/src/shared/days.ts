const DAY_MS = 86_400_000

const toDate = (day: string) => new Date(`${day}T00:00:00Z`)
const toText = (date: Date) => date.toISOString().slice(0, 10)

/** A day some days later. */
export const plusDays = (day: string, days: number): string => toText(new Date(+toDate(day) + days * DAY_MS))

function plusMonths(day: string, months: number): string {
  const date = toDate(day)
  return toText(new Date(Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + months, 1)))
}

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
  const days = (+toDate(to) - +toDate(from)) / DAY_MS + 1
  return { from: plusDays(from, step * days), to: plusDays(to, step * days) }
}

/** Today in a time zone. */
export const today = (zone: string): string =>
  new Intl.DateTimeFormat('en-CA', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
  }).format(new Date())
