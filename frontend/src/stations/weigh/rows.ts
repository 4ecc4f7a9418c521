import type { Board, Certain, Certainty, Row } from '../../api/client'
import { credit, money, ratio, yardstickName } from '../../shared/format'
import { VERDICT_WORDS } from '../../api/declared'
import { flipWords } from './boardWords'

export type Measure = 'value' | 'leads'

/** Leads are drawn per thousand units of spend: per single unit their numbers would say nothing. */
export const PER = 1000

/** The unit of the ruler, in words. */
export function rulerUnit(board: Board, measure: Measure, perSpend: boolean): string {
  const who = board.by === 'campaign' ? '' : 'ads only, '
  if (!perSpend) return measure === 'value' ? `${who}value in ${board.currency}` : `${who}leads`
  return measure === 'value'
    ? `${who}value per ${board.currency} of spend`
    : `${who}leads per ${PER} ${board.currency} of spend`
}

/** Why a row is not a plain campaign, in a few words. */
export function rowRemark(row: Row, by: string): string {
  const first = by.split(',')[0]!
  // Products are of conversions; a touch has none to lack.
  const lacking = first === 'product' ? 'conversions' : 'touches with tags, but'
  const remarks: Record<string, string> = {
    untagged: 'touches without any tag',
    no_value: `${lacking} without a ${first}`,
    no_trail: 'conversions without any touch',
    no_touch_spend: 'spend that met no touch',
    left_out: 'all else, so that nothing is lost',
    undivided: `spend that cannot be split by ${by.replace(',', ' and ')}`,
  }
  return remarks[row.bucket] ?? ''
}

/** Break-even in the unit of the ruler: per unit of spend, in minor units, or in leads; null where there is none. */
export function notchOf(board: Board, row: Row | null, measure: Measure, perSpend: boolean): number | null {
  if (measure === 'value') {
    if (perSpend) return board.break_even_roas
    return row?.spend ? row.spend * board.break_even_roas : null
  }
  const target = row?.target_cost_per_lead ?? board.target_cost_per_lead
  if (target === null) return null
  if (perSpend) return PER / target
  return row?.spend ? row.spend / 10 ** board.minor_digits / target : null
}

/** The thin notch at the target ROAS. */
export function targetOf(board: Board, row: Row, measure: Measure, perSpend: boolean): number | null {
  const target = row.target_roas ?? board.target_roas
  if (measure !== 'value' || target === null) return null
  return perSpend ? target : row.spend ? row.spend * target : null
}

/** The yardsticks that are drawn: those picked here, else those of the plan; the chosen one is always among them. */
export function panelOf(board: Board, picked: readonly string[]): string[] {
  const wanted = new Set([...(picked.length ? picked : board.panel), board.yardstick])
  return board.yardsticks.filter((name) => wanted.has(name))
}

/** A row's value per yardstick of the panel in the unit of the ruler. Without spend there is nothing per unit of spend. */
export function rulerValues(
  board: Board,
  panel: readonly string[],
  row: Row,
  measure: Measure,
  perSpend: boolean,
) {
  if (perSpend && !row.spend) return []
  const unit = 10 ** board.minor_digits
  // The board that stands here may be older than the panel.
  return panel
    .filter((name) => row.under[name])
    .map((name) => {
      const under =
        board.by === 'campaign'
          ? { value: row.under[name]!.value!, leads: row.under[name]!.leads! }
          : (row.ads[name] ?? { value: 0, leads: 0 })
      const amount = measure === 'value' ? under.value : under.leads
      const value = perSpend ? amount / (measure === 'value' ? row.spend! : row.spend! / unit / PER) : amount
      const shown =
        measure === 'value'
          ? `${money(under.value, board.minor_digits)} ${board.currency}`
          : `${credit(under.leads)} leads`
      const part = perSpend && measure === 'value' ? `, ROAS ${ratio(value)}` : ''
      return { name, value, label: `${yardstickName(name)}: ${shown}${part}` }
    })
}

/** The bracket of the chosen yardstick's 90 % interval in the unit of the ruler: of what the ruler draws. */
export function bracketOf(
  board: Board,
  row: Row,
  certain: Certain | undefined,
  measure: Measure,
  perSpend: boolean,
) {
  const found = certain?.intervals[board.yardstick]?.[measure === 'value' ? 'roas' : 'leads']
  if (!found || found.low === null || found.high === null || !row.spend) return null
  const unit = measure === 'value' ? 1 : row.spend / 10 ** board.minor_digits / PER
  const by = perSpend ? 1 / unit : measure === 'value' ? row.spend : 1
  return { low: found.low * by, high: found.high * by }
}

/** A reason with yardsticks by their names: what is heard or read are words, no codes. */
export function inNames(reason: string, codes: readonly string[]): string {
  // The longest first: `last_marked` is no `last`.
  const every = [...codes].sort((a, b) => b.length - a.length)
  const escaped = every.map((code) => code.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
  return reason.replace(new RegExp(`(?<=\\bunder .*)\\b(?:${escaped.join('|')})\\b`, 'g'), yardstickName)
}

/** What is said of a row: the verdict and why; of a day, week or month only whether it is too early to look at it. */
export function saidOf(board: Board, certainty: Certainty, certain: Certain | undefined, measure: Measure) {
  const kind = measure === 'value' ? 'sale' : 'lead'
  const verdict = certain?.verdicts[kind]
  if (verdict) {
    const flips = flipWords(verdict, board.currency)
    const reason = [inNames(verdict.reason, board.yardsticks), flips].filter(Boolean).join('. ')
    return { code: verdict.code, word: VERDICT_WORDS[verdict.code], reason }
  }
  const come = certain?.come[kind]
  if (!['day', 'week', 'month'].includes(board.by) || come == null || come >= certainty.mature_share)
    return null
  const things = measure === 'value' ? 'sales' : 'leads'
  return {
    code: 'too_early',
    word: 'too early',
    reason: `${Math.floor(come * 100)} % of the ${things} have come`,
  }
}

/** Rows of a board and of its certainty by one key. */
export const keyOf = (row: { bucket: string; values: readonly string[] }) =>
  [row.bucket, ...row.values].join('\u001f')
