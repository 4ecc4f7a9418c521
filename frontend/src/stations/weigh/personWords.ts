import type { Schemas } from '../../api/client'

export type PersonOut = Schemas['PersonOut']
export type PersonRow = Schemas['PersonRow']
export type PersonIdentifier = Schemas['PersonIdentifier']

const KINDS: Record<string, string> = {
  visitor_id: 'visitor',
  email: 'e-mail',
  phone: 'phone',
  lead_id: 'lead',
  click_id: 'click mark',
}

/** What an identifier is. */
export const kindWords = (kind: string): string => KINDS[kind] ?? kind

const TABLES: Record<string, string> = { visits: 'visit', leads: 'lead', conversions: 'order' }

/** A row by what it is and its id. */
export const rowWords = (row: { table: string; id: string }): string => `${TABLES[row.table]} ${row.id}`

/** What a row of a person is. */
export function whatWords(row: PersonRow): string {
  if (row.table !== 'visits') return [`${row.what} ${row.id}`, row.word].filter(Boolean).join(', ')
  // A test's visit is part of nothing, and begins no touch.
  if (row.apart) return rowWords(row)
  if (!row.starts) return 'goes on'
  const name = row.campaign || row.channel
  const from = [row.source, row.medium].filter(Boolean).join(' / ')
  return [name, from, row.what === 'click' ? '' : row.what].filter(Boolean).join(' · ')
}

/**
 * The pairs of identifiers that one row ties.
 *
 * @param knot positions of the identifiers, in the order in which they came to the person
 * @returns the one that stays, and the one that the rows lose
 */
export function pairsOf(knot: readonly number[]): [number, number][] {
  const sorted = [...knot].sort((a, b) => a - b)
  return sorted.flatMap((first, i) => sorted.slice(i + 1).map((second): [number, number] => [first, second]))
}
