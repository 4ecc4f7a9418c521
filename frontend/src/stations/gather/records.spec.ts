import { describe, expect, it } from 'vitest'
import { acrossOf, isValue, REST } from './records'

const group = (row: string, column: string, records: number, value: number) => ({
  values: [row, column],
  sums: { records, value, counted: records, counted_value: value },
})

describe('groups by two fields', () => {
  it('add up by row, by column and in the corner', () => {
    const table = acrossOf([group('a', 'x', 2, 10), group('a', 'y', 1, 5), group('b', 'x', 4, 1)])
    expect(table.rows).toEqual(['b', 'a'])
    expect(table.columns).toEqual(['x', 'y'])
    expect(table.cell('a', 'y').value).toBe(5)
    expect(table.cell('b', 'y').records).toBe(0)
    expect([table.ofRow('a').records, table.ofColumn('x').records, table.sum.value]).toEqual([3, 6, 16])
  })

  it('with many columns show the largest, and the rest as one', () => {
    const many = Array.from({ length: 15 }, (_, i) => group('a', `c${i}`, 15 - i, 1))
    const table = acrossOf(many)
    expect(table.columns).toHaveLength(12)
    expect(table.columns.at(-1)).toBe(REST)
    expect(table.rest).toBe(4)
    expect(table.cell('a', REST)).toEqual(table.ofColumn(REST))
    expect(table.ofColumn(REST).records).toBe(4 + 3 + 2 + 1)
  })

  it('by month stand in the order of time', () => {
    const table = acrossOf([group('2026-03', '2026-05', 9, 0), group('2026-01', '', 1, 0)])
    expect(table.rows).toEqual(['2026-01', '2026-03'])
    expect(table.columns).toEqual(['', '2026-05'])
  })
})

it('a value that says nothing is asked for as empty', () => {
  expect([isValue('owner', ''), isValue('owner', 'Ines')]).toEqual(['owner is empty', 'owner is Ines'])
})

it('a value that begins as an operator does is no operator', () => {
  expect(isValue('good', 'not good')).toBe('good in list not good')
  expect(isValue('owner', 'Notker')).toBe('owner is Notker')
})
