import type { Board, Schemas } from '../../api/client'
import { VERDICT_WORDS } from '../../api/declared'
import { count, moneyWithUnit, ratio, yardstickName } from '../../shared/format'

type Verdict = Schemas['VerdictOut']
/**
 * In how many redraws of the people a row pays, and what would flip its verdict, in words. Where nothing is judged yet,
 * no word of paying stands (R25).
 */
export function flipWords(verdict: Verdict, currency: string): string {
  if (verdict.code === 'too_few' || verdict.code === 'too_early') return ''
  const out = []
  if (verdict.pays !== null && verdict.loses !== null)
    out.push(`pays in ${verdict.pays} of 400 redraws of the people, loses in ${verdict.loses}`)
  if (verdict.flips_under) out.push(`${yardstickName(verdict.flips_under)} flips it`)
  if (verdict.pays_up_to_click !== null)
    out.push(`pays up to ${verdict.pays_up_to_click.toFixed(2)} ${currency} a click`)
  if (verdict.conversions_needed === 'none') out.push('no number of conversions would settle it')
  else if (verdict.conversions_needed)
    out.push(`about ${Number(verdict.conversions_needed).toLocaleString('en')} conversions would settle it`)
  return out.join('; ')
}

/**
 * A verdict for its own cell, with what would flip it: the yardstick, the conversions that would settle it, or the price
 * of a click up to which it pays. Where nothing is judged yet, its word alone (R25).
 */
export function cellWords(verdict: Verdict): { word: string; flips: string } {
  const word = VERDICT_WORDS[verdict.code]
  const short = yardstickName(verdict.flips_under).split(' ')[0]!.toLowerCase()
  if (verdict.code === 'depends') return { word: 'depends', flips: short ? `: ${short} flips it` : '' }
  if (verdict.code === 'unsure' && verdict.conversions_needed) {
    const none = verdict.conversions_needed === 'none'
    const many = none ? '' : Number(verdict.conversions_needed).toLocaleString('en')
    return { word, flips: none ? ': no number settles it' : `: about ${many} settle it` }
  }
  const judged = ['grow', 'keep', 'cut'].includes(verdict.code) && verdict.pays_up_to_click !== null
  return { word, flips: judged ? `: pays to ${verdict.pays_up_to_click!.toFixed(2)} a click` : '' }
}

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

/** What a board was asked and what came of it, in one sentence to be heard. */
export function boardSays(board: Board): string {
  const found = board.rows.filter((row) => row.found).length
  const ads = board.ads_only.under[board.yardstick]
  const money = (minor: number) => moneyWithUnit(minor, board.minor_digits, board.currency)
  return [
    `${boardWords(board)}: ${count(found)} ${found === 1 ? 'row' : 'rows'}`,
    ads?.value != null && `ads only ${money(ads.value)} of value`,
    ads?.roas != null && `return on ad spend ${ratio(ads.roas)}`,
  ]
    .filter(Boolean)
    .join('; ')
}
