import type { Board, Row, Schemas } from '../../api/client'
import { amount, count, credit, money, ratio, share, ungrouped } from '../../shared/format'

export type Column = Schemas['ColumnOut']

/** The columns a board shows, in order. */
export const columnsOf = (board: Board): Column[] =>
  board.shown_columns.flatMap((name) => board.columns.filter((column) => column.name === name))

/** A figure of a row under the board's yardstick; null where there is none. */
export const valueOf = (row: Row, column: Column, yardstick: string): number | null =>
  row.under[yardstick]?.[column.name] ?? null

/** A figure as it stands in its column. */
export function shown(column: Column, value: number, digits: number): string {
  const ways: Record<Column['kind'], () => string> = {
    money: () => money(value, digits),
    amount: () => amount(value, digits),
    credit: () => credit(value),
    count: () => count(value),
    ratio: () => ratio(value),
    share: () => share(value),
  }
  return ways[column.kind]()
}

/** A figure as spreadsheets read it: rounded as shown, without grouping; shares as parts of 1, as in files. */
export function plain(column: Column, value: number | null, digits: number): string {
  if (value === null) return ''
  const places = { money: digits, amount: digits, credit: 1, count: 0, ratio: 2, share: 3 }[column.kind]
  return ungrouped(column.kind === 'money' ? value / 10 ** digits : value, places)
}

/** The unit of a column, as its head says it. */
export function unitOf(column: Column, board: Board): string {
  if (column.kind === 'money' || column.kind === 'amount') return board.currency
  // In rows that are no campaign's, untagged value stands beside the spend of ads: that has its name (R23).
  return column.name === 'roas' && board.by !== 'campaign' ? 'blended' : ''
}

/** Why a figure is missing. */
export const whyNone = (row: Row, column: Column): string =>
  row.spend === null && column.name !== 'touches' ? 'this row has no spend' : column.none

/** How wide a column is, in pixels: amounts, ratios and counts. */
export const widthOf = (column: Column): number =>
  ({ money: 84, amount: 84, credit: 62, count: 66, ratio: 54, share: 66 })[column.kind]
