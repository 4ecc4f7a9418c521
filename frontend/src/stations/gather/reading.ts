import type { Schemas } from '../../api/client'

/** What the server always fills in. */
export type FileRehearsal = Required<Schemas['FileRehearsal']>
export type SourceNow = Required<Schemas['SourceNow']>
export type Reading = Schemas['SourcePart']
export type Question = Schemas['FileQuestion']
export type TableColumn = Schemas['TableColumn']

/** Questions that hold a file back. */
export const openOf = (questions: Question[]) => questions.filter((q) => !q.answer)
/** What was said, or holds until something else is said. */
export const saidOf = (questions: Question[]) => questions.filter((q) => q.answer)

/** Where a column of the file goes: a column of the table, or nowhere. */
export function goesTo(reading: Reading, written: string): string {
  const same = (a: string) => a.trim().toLowerCase() === written.trim().toLowerCase()
  return Object.entries(reading.columns ?? {}).find(([, name]) => same(name))?.[0] ?? ''
}

/** The reading with a column of the file going elsewhere; what went there before goes nowhere. */
export function sent(reading: Reading, written: string, column: string): Reading {
  const before = goesTo(reading, written)
  const columns = Object.fromEntries(
    Object.entries(reading.columns ?? {}).filter(([name]) => name !== column && name !== before),
  )
  if (column) columns[column] = written
  // A column that has our name is that column unless it is said to be none.
  else if (before && written.trim().toLowerCase().replaceAll(' ', '_') === before) columns[before] = ''
  return { ...reading, columns }
}

/** Columns of the table that must be filled and that no column of the file goes to. */
export function unfilled(reading: Reading, columns: TableColumn[]): TableColumn[] {
  const filled = new Set([
    ...Object.keys(reading.columns ?? {}),
    ...(reading.split ?? []).flatMap((s) => s.into),
    ...(reading.join ?? []).map((j) => j.into),
  ])
  const always = ['platform', 'account', 'currency', 'goal']
  return columns.filter((c) => !filled.has(c.name) && (c.required || always.includes(c.name)))
}

/** Decimals of a currency, two where it is none that is known. */
function digitsOf(currency: string): number {
  try {
    return (
      new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ??
      2
    )
  } catch {
    return 2
  }
}

/** A sum in words: the amount with the decimals of its currency, or as many as it has, and the currency. */
export const moneyOf = (money: Schemas['MoneySum'][], home: string) =>
  money
    .map(({ currency, amount }) => {
      const [whole, part] = amount.split('.') as [string, string | undefined]
      const decimals = (part ?? '').padEnd(digitsOf(currency || home), '0')
      return `${whole.replace(/\B(?=(\d{3})+(?!\d))/g, ',')}${decimals ? `.${decimals}` : ''} ${currency || home}`
    })
    .join(', ')
