import { maskedText } from '../../shared/masked'

/** Matters in words. */
const KINDS: Record<string, string> = {
  order_twice: 'Perhaps a double',
  refund_alone: 'Refund of an order that is not there',
  unlisted_word: 'Word without a meaning',
  shared_identifier: 'Identifier of too many',
}

/** What a matter is. */
export const matterWords = (kind: string): string => KINDS[kind] ?? kind.replaceAll('_', ' ')

/** What a matter is about. */
export const objectWords = (object: readonly string[]): string =>
  object.map(maskedText).join(' / ').replaceAll('visitor_id', 'visitor').replaceAll('lead_id', 'lead')
