import type { Schemas } from '../../api/client'
import { instant } from '../../shared/format'

export type RecordOut = Schemas['RecordOut']
export type RecordTouch = Schemas['RecordTouch']

const STEPS: Record<Schemas['ValueStep'], string> = {
  stated: 'As stated',
  refunded: 'Refunds',
  tax: 'Tax',
  shipping: 'Shipping',
  floor: 'Not below zero',
  default: 'Default value of the goal',
  fixed: 'Fixed value of the goal',
  rate: 'In the home currency',
}

/** A step of a record's value, in words. */
export const stepWords = (step: Schemas['ValueStep']): string => STEPS[step]

/** Whether a record counts, and if not by which rule. */
export function countedWords(record: RecordOut): string {
  const by = record.by
  switch (record.apart) {
    case null:
      return `Counts${record.good ? ', good' : ''}${record.new ? ', first of its person' : ''}`
    case 'test':
      return 'Test record: in no figure'
    case 'quarantined':
      return `Quarantined by ${by.replace(/^by /, '')}: in no figure`
    case 'cancelled':
      return 'Cancelled: in no figure'
    case 'word':
      return `“${by}” does not count`
    case 'counted_elsewhere':
      return `The goal counts ${by.replaceAll('_', ' ')}: another of this person`
    case 'no_event':
      return `It never had ${by || 'the word asked for'}: in no range`
    case 'outside':
      return `Its day, ${by}, is outside the range`
  }
}

const APART: Record<Schemas['Apart'], string> = {
  test: 'test',
  quarantined: 'quarantined',
  cancelled: 'cancelled',
  word: 'does not count',
  counted_elsewhere: 'another counts',
  no_event: 'in no range',
  outside: 'outside the range',
}

/** Why a record is in no figure, in a word or two. */
export const apartWords = (apart: Schemas['Apart']): string => APART[apart]

const REASONS: Record<string, string> = {
  visits: 'seen in its visits',
  captured: 'captured by the form',
  code: 'by its code',
  self_reported: 'only what the person said',
  direct: 'direct visits alone',
  none: 'no source',
}

/** Why a lead has a source. */
export const reasonWords = (reason: string): string => REASONS[reason] ?? ''

/** The load that a row came with: its number and day. */
export function loadWords(load: number | null, record: RecordOut): string {
  const came = load === null ? undefined : record.loads[load]
  return came ? `, load ${load} of ${instant(came.at, record.time_zone).slice(0, 10)}` : ''
}

/** A number of days with its unit. */
export const daysOf = (days: number): string => `${days} ${days === 1 ? 'day' : 'days'}`

/** Why a touch is not in the trail. */
export function withoutWords(touch: RecordTouch, record: RecordOut): string {
  const days = Math.abs(touch.days_before).toFixed(1)
  const kinds = ['click', 'view', 'watch']
  switch (touch.without) {
    case 'after':
      return `${days} days after`
    case 'window':
      return `${days} days before; window ${daysOf(record.look_back[kinds.indexOf(touch.kind)]!)}`
    case 'previous':
      return 'before the conversion before'
    case 'direct':
      return 'direct yields'
    case 'view':
      return 'views yield'
    default:
      return ''
  }
}

/** A touch by what it was read as. */
export function touchWords(touch: RecordTouch): string {
  const name = touch.campaign || `${touch.tagged ? 'no campaign' : 'untagged'}, ${touch.channel}`
  const from = [touch.source, touch.medium].filter(Boolean).join(' / ')
  const kind = touch.captured ? 'captured' : touch.kind === 'click' ? '' : touch.kind
  return [name, from, kind].filter(Boolean).join(' · ')
}

/** What happened when, on a line on which gaps of more than two weeks are folded. */
export interface Mark {
  at: number
  kind: 'touch' | 'out' | 'record' | 'status' | 'refund'
  says: string
}

const FOLD_DAYS = 14

/**
 * Where marks stand on a line.
 *
 * @param marks in the order of time, in days
 * @param width of the line
 * @returns the place of each, and the middles of the folded gaps
 */
export function places(marks: readonly Mark[], width: number): { x: number[]; folds: number[] } {
  const x: number[] = []
  const folded: number[] = []
  let reach = 0
  marks.forEach((mark, i) => {
    const gap = i ? mark.at - marks[i - 1]!.at : 0
    if (gap > FOLD_DAYS) folded.push(reach + FOLD_DAYS / 2)
    reach += Math.min(gap, FOLD_DAYS)
    x.push(reach)
  })
  const scale = reach ? (width - 24) / reach : 0
  return { x: x.map((v) => 12 + v * scale), folds: folded.map((v) => 12 + v * scale) }
}
