import type { Board } from '../../api/client'
import { yardstickName } from '../../shared/format'

/** What a board was asked, in words: for whoever reads it away from its controls. */
export function boardWords(board: Board): string {
  const event = board.date_basis.split('event:')[1]
  const basis = event
    ? `, records on the day of ${event}`
    : board.date_basis === 'touch'
      ? ', by day of touch'
      : ''
  return [
    `By ${board.by.replaceAll('_', ' ').replace(',', ' and ')}`,
    `${board.report_from ?? board.first_day} to ${board.report_to ?? board.last_day}${basis}`,
    `yardstick ${yardstickName(board.yardstick)}`,
    board.own_windows ? 'look-back per goal' : `look-back ${board.click_days} days`,
    board.where.length ? `only where ${board.where.join(' and ')}` : 'no filter',
  ].join(', ')
}
