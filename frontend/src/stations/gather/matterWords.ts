/** Matters in words. */
const KINDS: Record<string, string> = {
  order_twice: 'Perhaps a double',
  refund_alone: 'Refund of an order that is not there',
  unlisted_word: 'Word without a meaning',
  shared_identifier: 'Identifier of too many',
}

/** What a matter is. */
export const matterWords = (kind: string): string => KINDS[kind] ?? kind.replaceAll('_', ' ')

/** An e-mail address by its first letter and its host, a phone by its last digits: people stay masked. */
const masked = (text: string): string =>
  text
    .replace(
      /^(email:)?([^@\s]?)[^@\s]*@/,
      (_, kind: string | undefined, first: string) => `${kind ?? ''}${first}...@`,
    )
    .replace(
      /^(phone:)?\+?\d{4,}(\d\d)$/,
      (_, kind: string | undefined, end: string) => `${kind ?? ''}...${end}`,
    )

/** What a matter is about. */
export const objectWords = (object: readonly string[]): string =>
  object.map(masked).join(' / ').replaceAll('visitor_id', 'visitor').replaceAll('lead_id', 'lead')
