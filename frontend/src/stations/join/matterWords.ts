import { maskedText } from '../../shared/masked'

/** Matters in words: what each is, and where it is mended if not in its own rows. */
const KINDS: Record<string, readonly [string, string?]> = {
  arrivals_fell: ['Fewer arrive than before', 'legend'],
  untagged_mark: ['Click mark without a tag', 'legend'],
  near_value: ['Almost a known value', 'allowed'],
  unknown_campaign: ['Campaign not in the plan', 'campaign'],
  unread_tags: ['Tags that nothing reads', 'channel'],
  unfilled_slots: ['Slot left unfilled', 'legend'],
  spend_alone: ['Spend without a touch'],
  touches_alone: ['Touches without spend'],
  missing_day: ['Days without rows'],
  missing_rate: ['No exchange rate'],
  zone_differs: ['Account in another zone'],
  levels_differ: ['Levels that differ', 'platform'],
  invoice_differs: ['Invoice differs'],
  shared_identifier: ['Identifier of too many'],
  capture_differs: ['Form captures another source', 'legend'],
  order_twice: ['Perhaps a double'],
  refund_alone: ['Refund without its order'],
  unlisted_word: ['Word without a meaning'],
  price_idle: ['Price that no click fits'],
  price_yields: ['Price beside reported cost'],
  ad_untagged: ['Ad without tags'],
  ad_wrong: ['Ad with a wrong address'],
  link_wrong: ['Link arrives otherwise'],
}

/** What a matter is. */
export const matterWords = (kind: string): string => KINDS[kind]?.[0] ?? kind.replaceAll('_', ' ')

/** A tagged address by what tells it from others of its page. */
function ofLink(text: string): string {
  const query = text.startsWith('http') && text.includes('utm_') ? text.split('?')[1] : undefined
  const tags = new URLSearchParams(query)
  const told = ['campaign', 'content', 'term'].map((name) => tags.get(`utm_${name}`))
  return told.filter(Boolean).join(' · ')
}

/** What a matter is about. */
export const objectWords = (object: readonly string[]): string =>
  object
    .map((part) => ofLink(part) || maskedText(part) || 'nothing')
    .join(' / ')
    .replaceAll('visitor_id', 'visitor')
    .replaceAll('lead_id', 'lead')

/** Kinds that a rename may mend, and which part of what they are about is the value. */
const SAME_AS: Record<string, number> = {
  near_value: 1,
  unknown_campaign: 0,
  spend_alone: 0,
  touches_alone: 0,
}

/** The field and value that may be the same as another, if a matter is of a value. */
export function renamed(kind: string, object: readonly string[]): { field: string; old: string } | undefined {
  const at = SAME_AS[kind]
  if (at === undefined) return undefined
  return { field: at ? object[0]! : 'campaign', old: object[at]! }
}

/** Kinds that a legend of their landing pages may mend. */
export const isOfPages = (kind: string): boolean =>
  ['arrivals_fell', 'untagged_mark', 'unfilled_slots'].includes(kind)

/** Where else a matter is mended: a list of the plan, or another screen. */
export function elsewhere(kind: string): { to: string; words: string } | undefined {
  const section = KINDS[kind]?.[1]
  if (section) return { to: `/plan?section=${section}`, words: 'Mend it in Plan' }
  if (kind === 'invoice_differs') return { to: '/invoices', words: 'See the invoice' }
  if (kind.startsWith('ad_')) return { to: '/ads', words: 'See the ad' }
  if (kind.startsWith('price_') || kind === 'link_wrong') return { to: '/mark', words: 'See the links' }
  if (['missing_day', 'missing_rate', 'refund_alone', 'touches_alone'].includes(kind))
    return { to: '/gather', words: 'Load what is missing' }
  return undefined
}
