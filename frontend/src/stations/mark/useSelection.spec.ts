import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { useSelection } from './useSelection'

const grid = (rows = 5, columns = 4) => useSelection(ref(rows), ref(columns))

describe('the selection', () => {
  it('is one cell, until it is extended', () => {
    const { range, pick, move } = grid()
    pick({ row: 2, column: 1 })
    expect(range.value).toEqual({ top: 2, bottom: 2, left: 1, right: 1 })
    move(1, 2, true)
    expect(range.value).toEqual({ top: 2, bottom: 3, left: 1, right: 3 })
    move(0, 0)
    expect(range.value).toEqual({ top: 3, bottom: 3, left: 3, right: 3 })
  })

  it('grows to either side of where it began', () => {
    const { range, pick, move } = grid()
    pick({ row: 2, column: 2 })
    move(-2, -1, true)
    expect(range.value).toEqual({ top: 0, bottom: 2, left: 1, right: 2 })
  })

  it('stays inside the sheet', () => {
    const { focus, move, pick } = grid()
    move(-1, -1)
    expect(focus.value).toEqual({ row: 0, column: 0 })
    pick({ row: 99, column: 99 })
    expect(focus.value).toEqual({ row: 4, column: 3 })
  })

  it('takes whole rows, and several with shift', () => {
    const { range, pickRow } = grid()
    pickRow(3, false)
    expect(range.value).toEqual({ top: 3, bottom: 3, left: 0, right: 3 })
    pickRow(1, true)
    expect(range.value).toEqual({ top: 1, bottom: 3, left: 0, right: 3 })
  })

  it('takes everything', () => {
    const { range, all } = grid()
    all()
    expect(range.value).toEqual({ top: 0, bottom: 4, left: 0, right: 3 })
  })

  it('is nothing in an empty sheet', () => {
    expect(grid(0).range.value).toBeNull()
  })
})
