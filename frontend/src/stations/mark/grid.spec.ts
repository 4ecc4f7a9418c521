import { describe, expect, it } from 'vitest'
import { combinations, rangeOf, step, type Axis } from './grid'

describe('the grid', () => {
  it('ends at its edges', () => {
    expect(step({ row: 0, column: 0 }, 3, 2, -1, -1)).toEqual({ row: 0, column: 0 })
    expect(step({ row: 2, column: 1 }, 3, 2, 5, 5)).toEqual({ row: 2, column: 1 })
  })
  it('spans a rectangle whichever corner came first', () => {
    expect(rangeOf({ row: 4, column: 0 }, { row: 1, column: 3 })).toEqual({
      top: 1,
      bottom: 4,
      left: 0,
      right: 3,
    })
  })
  it('multiplies lists', () => {
    const places: Axis = [{ placement: 'a' }, { placement: 'b', medium: 'cpc' }]
    expect(combinations([places, [], [{ content: 'x' }, { content: 'y' }]])).toHaveLength(4)
    expect(combinations([places])).toEqual(places)
  })
})
