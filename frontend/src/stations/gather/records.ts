import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api, type Schemas } from '../../api/client'
import { setAddress, useAddressList, useAddressState } from '../../shared/addressState'

export type RecordsOut = Schemas['RecordsOut']
export type RecordGroup = Schemas['RecordGroup']

export const LIMIT = 100

/** What is asked of records: all of it stands in the address. */
export function useRecordsQuestion() {
  const by = useAddressState('by', 'latest_source')
  const across = useAddressState('across')
  const where = useAddressList('where')
  const dayOf = useAddressState('day_of', 'created')
  const from = useAddressState('from')
  const to = useAddressState('to')
  const columns = useAddressList('columns')
  /** Rows are listed when somebody asks for them: numbers come before names. */
  const listed = useAddressState('list')
  const measure = useAddressState('measure', 'records')
  const router = useRouter()
  const asked = computed(() => ({
    by: [by.value, across.value].filter((name) => name && name !== 'nothing').join(','),
    where: where.value,
    day_of: dayOf.value as 'created' | 'won' | 'report',
    from: from.value || undefined,
    to: to.value || undefined,
    columns: columns.value,
  }))
  const set = (values: Record<string, string | string[] | undefined>) => setAddress(router, values)
  return { by, across, where, dayOf, from, to, columns, listed, measure, asked, set }
}

export type RecordsQuestion = ReturnType<typeof useRecordsQuestion>

/** Records, counted and grouped, and the first of them where they are listed. */
export const useRecords = ({ asked, listed }: RecordsQuestion) =>
  useQuery({
    queryKey: ['records', asked, listed],
    queryFn: () =>
      answer(api.GET('/records', { params: { query: { ...asked.value, limit: listed.value ? LIMIT : 0 } } })),
    placeholderData: keepPreviousData,
  })

/** Records that are taken out or put back in one act, at most. */
export const MOST_AT_ONCE = 1000

/** All records that fit, as the list of records by hand names them. */
export async function everyOne(asked: RecordsQuestion['asked']['value']) {
  const query = { ...asked, columns: [], limit: MOST_AT_ONCE, every: true }
  const { rows } = await answer(api.GET('/records', { params: { query } }))
  return rows.map(({ table, id }) => ({ table: table as 'leads' | 'conversions', id }))
}

export const useAgreement = () =>
  useQuery({ queryKey: ['agreement'], queryFn: () => answer(api.GET('/records/agreement')) })

/** A field in words. */
export const fieldWords = (name: string): string => name.replaceAll('_', ' ')

/** A value in words: what says nothing says so. */
export function valueWords(value: string, field = ''): string {
  if (value) return value.replaceAll('_', ' ')
  return /^(first|latest)_/.test(field) ? 'no trail' : 'nothing said'
}

/** The condition that a field has a value. "is not good" would be read as another operator than "is" with "not good". */
export function isValue(field: string, value: string): string {
  if (!value) return `${field} is empty`
  const how =
    /^(not|empty|there|in|one|none|between)\b/i.test(value) && !value.includes('|') ? 'in list' : 'is'
  return `${field} ${how} ${value}`
}

const MOST_COLUMNS = 11
export const REST = '\u0000rest'

/** Groups by two fields as a table: so many columns, the rest as one, with sums of number and money. */
export function acrossOf(groups: readonly RecordGroup[]) {
  type Sums = RecordGroup['sums']
  const none: Sums = { records: 0, value: 0, counted: 0, counted_value: 0 }
  const plus = (one: Sums, other: Sums): Sums => ({
    records: one.records + other.records,
    value: one.value + other.value,
    counted: one.counted + other.counted,
    counted_value: one.counted_value + other.counted_value,
  })
  const total = (of: readonly RecordGroup[]) => of.reduce((sum, group) => plus(sum, group.sums), none)
  const sumsBy = (at: number) => {
    const sums = new Map<string, Sums>()
    for (const group of groups) {
      const value = group.values[at]!
      sums.set(value, plus(sums.get(value) ?? none, group.sums))
    }
    return sums
  }
  const [rows, columns] = [sumsBy(0), sumsBy(1)]
  const inTime = (values: string[]) => values.every((value) => !value || /^\d{4}-\d{2}/.test(value))
  const ordered = (sums: Map<string, Sums>) => {
    const values = [...sums.keys()]
    // Months stand in the order of time, anything else by number.
    return inTime(values) ? values.sort() : values.sort((a, b) => sums.get(b)!.records - sums.get(a)!.records)
  }
  const all = ordered(columns)
  const shown = all.length > MOST_COLUMNS + 1 ? all.slice(0, MOST_COLUMNS) : all
  const cells = new Map<string, Sums>()
  for (const { values, sums } of groups) {
    const column = shown.includes(values[1]!) ? values[1]! : REST
    const key = JSON.stringify([values[0], column])
    cells.set(key, plus(cells.get(key) ?? none, sums))
  }
  return {
    rows: ordered(rows),
    columns: shown.length < all.length ? [...shown, REST] : shown,
    /** Columns that the rest stands for. */
    rest: all.length - shown.length,
    cell: (row: string, column: string): Sums => cells.get(JSON.stringify([row, column])) ?? none,
    ofRow: (row: string): Sums => rows.get(row) ?? none,
    ofColumn: (column: string): Sums =>
      column === REST ? total(groups.filter((g) => !shown.includes(g.values[1]!))) : columns.get(column)!,
    sum: total(groups),
  }
}
