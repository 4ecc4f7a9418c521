/** From a row of a board one step deeper. */
import type { Board, Row } from '../../api/client'
import { daysOf } from '../../shared/days'

/** The field that a field opens into. */
const NEXT: Record<string, string> = {
  channel: 'source',
  source: 'medium',
  medium: 'campaign',
  campaign: 'group',
  group: 'ad',
  ad: 'keyword',
  month: 'week',
  week: 'day',
}
const later = (one: string, other: string) => (one > other ? one : other)
const earlier = (one: string, other: string) => (one < other ? one : other)

/** What the question becomes: the row's own rows alone, by the next field; of a week or month its days. */
export function questionOf(row: Row, board: Board, where: string[]) {
  const by = board.by.split(',')
  const days = by.length === 1 ? daysOf(row.values[0] ?? '') : null
  const own = days
    ? []
    : by.map((field, i) => (row.values[i] ? `${field} is ${row.values[i]}` : `${field} is empty`))
  const range = days && {
    from: later(days.from, board.report_from ?? days.from),
    to: earlier(days.to, board.report_to ?? days.to),
  }
  return {
    ...range,
    by: NEXT[by.at(-1)!] ?? 'campaign',
    then: undefined,
    sort: undefined,
    find: undefined,
    verdict: undefined,
    where: [...new Set([...where, ...own])],
  }
}

/** Whether rows open: a day is what it is, and no row of a pair with a time does. */
export function rowsOpen(board: Board): boolean {
  const by = board.by.split(',')
  return by.length > 1 ? !by.some((field) => ['day', 'week', 'month'].includes(field)) : by[0] !== 'day'
}
