import type { Board, Certainty, Row } from '../../api/client'
import { asText } from '../../shared/clipboard'
import { ungrouped, yardstickName } from '../../shared/format'
import { boardWords } from './boardWords'
import { columnsOf, plain, unitOf, valueOf } from './figures'
import { keyOf, saidOf, type Measure } from './rows'

/** The cells of a board as it stands, its totals and what was asked, to be pasted into a spreadsheet. */
export function boardCells(board: Board, certainty: Certainty | undefined, measure: Measure, all: boolean) {
  const fields = board.by.split(',')
  const unit = 10 ** board.minor_digits
  const certain = new Map(certainty?.rows.map((row) => [keyOf(row), row]))
  const name = (row: Row) =>
    row.values.length === fields.length
      ? row.values.map((v) => v || row.called)
      : [row.called, ...fields.slice(1).map(() => '')]
  const yardsticks = board.yardsticks.filter((y) => board.rows.every((row) => row.under[y]))
  const columns = columnsOf(board)
  const figures = (row: Row) => {
    const verdict =
      certainty && row.bucket === 'named' ? saidOf(board, certainty, certain.get(keyOf(row)), measure) : null
    return [
      ...columns.map((c) => plain(c, valueOf(row, c, board.yardstick), board.minor_digits)),
      verdict?.word ?? '',
    ]
  }
  const side = (row: Row) =>
    yardsticks.map((y) => {
      const under = row.under[y]!
      return measure === 'value'
        ? ungrouped(under.value! / unit, board.minor_digits)
        : ungrouped(under.leads!, 1)
    })
  const header = all
    ? yardsticks.map(
        (y) => `${measure === 'value' ? `Value ${board.currency}` : 'Leads'}, ${yardstickName(y)}`,
      )
    : [...columns.map((c) => [c.title, unitOf(c, board)].filter(Boolean).join(' ')), 'Verdict']
  const rows = [...board.rows.filter((row) => row.found), board.ads_only, board.total]
  return [
    [...fields, ...header],
    ...rows.map((row) => [...name(row).map(asText), ...(all ? side(row) : figures(row))]),
    [asText(`${boardWords(board)}, fingerprint ${board.fingerprint}`)],
  ]
}
