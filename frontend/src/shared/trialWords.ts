import { VERDICT_WORDS } from '../api/declared'
import { count, credit, moneyWithUnit, yardstickName } from './format'
import { maskedText } from './masked'
import type { Trial } from './trial'

const rowOf = (row: Trial['still_one'][number]['rows'][number]) => `${row.file} ${row.line}`

/** What an edit would move, in one sentence for the foot line. */
export function trialWords(trial: Trial): string {
  const amount = (minor: number) => moneyWithUnit(minor, trial.minor_digits, trial.currency)
  const words = []
  if (trial.was_currency !== trial.currency)
    words.push(`every amount is in ${trial.currency} instead of ${trial.was_currency}`)
  const named = (names: string[]) => names.map(yardstickName).join(', ')
  if (trial.yardsticks_gone.length) words.push(`${named(trial.yardsticks_gone)} goes`)
  if (trial.yardsticks_come.length) words.push(`${named(trial.yardsticks_come)} comes`)
  if (trial.value) words.push(`value moved ${amount(trial.value)}`)
  if (trial.spend) words.push(`spend moved ${amount(trial.spend)}`)
  if (trial.leads) words.push(`leads moved ${credit(trial.leads)}`)
  if (trial.sales && !trial.value) words.push(`sales moved ${credit(trial.sales)}`)
  const { records, quarantined } = trial
  const many = (number: number, what: string) => `${count(number)} ${number === 1 ? what : `${what}s`}`
  if (quarantined > 0) words.push(`${many(quarantined, 'row')} quarantined`)
  else if (quarantined < 0) words.push(`${many(-quarantined, 'row')} put back`)
  else if (records < 0)
    words.push(`${many(-records, 'record')} ${records === -1 ? 'counts' : 'count'} no more`)
  else if (records > 0) words.push(`${many(records, 'more record')} ${records === 1 ? 'counts' : 'count'}`)
  const rows = (number: number) => `${count(number)} ${number === 1 ? 'row' : 'rows'}`
  if (!words.length && trial.moved) words.push(`other figures in ${rows(trial.moved)}`)
  else if (!words.length && trial.elsewhere)
    words.push(`${rows(trial.elsewhere)} ${trial.elsewhere === 1 ? 'moves' : 'move'} under other yardsticks`)
  const turns = trial.turns.length
  if (turns) words.push(turns === 1 ? '1 verdict turns' : `${count(turns)} verdicts turn`)
  for (const { first, second, rows } of trial.still_one)
    words.push(
      `${maskedText(first)} and ${maskedText(second)} stay one person by ${rows.map(rowOf).join(', ')}`,
    )
  if (!words.length) words.push('the line under the board moves')
  const by =
    trial.by === 'campaign' || !(trial.moved + trial.elsewhere) ? '' : `By ${trial.by.replaceAll('_', ' ')}: `
  const said = words.join(', ')
  return by + (by ? said : said.charAt(0).toUpperCase() + said.slice(1))
}

/** What is said of an edit once it is kept. */
export function keptWords(trial: Trial): string {
  if (trial.moves) return 'Kept.'
  const renamed = trial.renamed.length
  if (!renamed) return 'No figure moves: kept.'
  return `No figure moves, ${count(renamed)} ${renamed === 1 ? 'row is' : 'rows are'} called otherwise: kept.`
}

/** A verdict that turns, in words. */
export function turnWords(turn: Trial['turns'][number]): string {
  const word = (code: typeof turn.before) => (code ? VERDICT_WORDS[code] : 'no verdict')
  const kind = turn.kind === 'lead' ? ' (leads)' : ''
  return `${turn.called}${kind}: ${word(turn.before)} → ${word(turn.after)}`
}
