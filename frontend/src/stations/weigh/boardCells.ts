import type { Board, Certainty, Row } from '../../api/client'
import { asText } from '../../shared/clipboard'
import { ungrouped, yardstickName } from '../../shared/format'
import { boardWords } from './boardWords'
import { keyOf, saidOf, type Measure } from './rows'

/** A figure as shown, as a spreadsheet reads it: no grouping, a point. */
const plain = (figure: number | null | undefined, digits: number) =>
  figure === null || figure === undefined ? '' : ungrouped(figure, digits)

/** The cells of a board as it stands, its totals and what was asked, to be pasted into a spreadsheet. */
export function boardCells(board: Board, certainty: Certainty | undefined, measure: Measure, all: boolean) {
  const fields = board.by.split(',')
  const unit = 10 ** board.minor_digits
  const certain = new Map(certainty?.rows.map((row) => [keyOf(row), row]))
  const name = (row: Row) =>
    row.values.length === fields.length
      ? row.values.map((v) => v || row.called)
      : [row.called, ...fields.slice(1).map(() => '')]
  const money = (minor: number | null) => plain(minor === null ? null : minor / unit, board.minor_digits)
  const yardsticks = board.yardsticks.filter((y) => board.rows.every((row) => row.under[y]))
  const figures = (row: Row) => {
    const under = row.under[board.yardstick]!
    const verdict =
      certainty && row.bucket === 'named' ? saidOf(board, certainty, certain.get(keyOf(row)), measure) : null
    return [
      money(row.spend),
      plain(under.leads, 1),
      plain(under.cost_per_lead, board.minor_digits),
      plain(under.sales, 1),
      money(under.value),
      plain(under.roas, 2),
      verdict?.word ?? '',
    ]
  }
  const side = (row: Row) =>
    yardsticks.map((y) => (measure === 'value' ? money(row.under[y]!.value) : plain(row.under[y]!.leads, 1)))
  const header = all
    ? yardsticks.map(
        (y) => `${measure === 'value' ? `Value ${board.currency}` : 'Leads'}, ${yardstickName(y)}`,
      )
    : [
        `Spend ${board.currency}`,
        'Leads',
        `Cost per lead ${board.currency}`,
        'Sales',
        `Value ${board.currency}`,
        'ROAS',
        'Verdict',
      ]
  const rows = [...board.rows.filter((row) => row.found), board.ads_only, board.total]
  return [
    [...fields, ...header],
    ...rows.map((row) => [...name(row).map(asText), ...(all ? side(row) : figures(row))]),
    [asText(`${boardWords(board)}, fingerprint ${board.fingerprint}`)],
  ]
}
