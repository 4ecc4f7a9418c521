import type { Board, Row } from '../../api/client'
import { daysBetween, stepPeriod } from '../../shared/days'
import { keyOf, rulerValues, type Measure } from './rows'

/** The time before the days of a board, of their kind and length; null where no data reach back to it. */
export function timeBefore(board: Board): { from: string; to: string } | null {
  const from = board.report_from ?? board.first_day
  const to = board.report_to ?? board.last_day
  if (!from || !to) return null
  const before = stepPeriod(from, to, -1)
  return before.to < board.first_day ? null : before
}

/** How far a row has moved since the time before, on the ruler. */
export interface Moved {
  /** Where it stood, in the unit of the ruler; null where it did not. */
  before: number | null
  text: string
  says: string
}

/** Of each row by its key how it moved under the chosen yardstick. */
export function movedOf(
  board: Board,
  earlier: Board,
  measure: Measure,
  perSpend: boolean,
  early: boolean,
): Map<string, Moved> {
  const of = (one: Board, row: Row) => rulerValues(one, [one.yardstick], row, measure, perSpend)[0]?.value
  const there = new Map(earlier.rows.map((row) => [keyOf(row), row]))
  const length = (one: Board) => daysBetween(one.report_from ?? one.first_day, one.report_to ?? one.last_day)
  const [days, days_before] = [length(board), length(earlier)]
  const out = new Map<string, Moved>()
  for (const row of board.rows.filter((r) => r.bucket === 'named')) {
    const was = there.get(keyOf(row))
    const [now, then] = [of(board, row), was && of(earlier, was)]
    const before = then ?? null
    if (early)
      out.set(keyOf(row), { before, text: 'too early', says: 'too early: later days will look better' })
    else if (!perSpend && days !== days_before) {
      // What is not per unit of spend grows with the days: of unequal lengths nothing is divided.
      const says = `${days} days against ${days_before}: not compared`
      out.set(keyOf(row), { before: null, text: `${days} : ${days_before} d`, says })
    } else if (now === undefined || !then) {
      out.set(keyOf(row), { before, text: '–', says: 'nothing to compare it with in the period before' })
    } else {
      const change = Math.round((now / then - 1) * 100)
      const text = `${change > 0 ? '+' : change < 0 ? '\u2212' : ''}${Math.abs(change)}\u202f%`
      out.set(keyOf(row), {
        before,
        text,
        says: `${text} against ${earlier.report_from} to ${earlier.report_to}`,
      })
    }
  }
  return out
}
